package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.FailureCode;
import org.wirekettle.call.MessageForm;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Problem;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.WayView;
import org.wirekettle.soap.Fault;

/** An exchange of the Bench. On the wire its parts are one object. */
public record BenchAnswer(
        @JsonUnwrapped Sent sent,
        @JsonUnwrapped Went went,
        @JsonUnwrapped Came came) {
    private static final int MAX_PREFIXES = 60;
    private static final Pattern DECLARATION =
            Pattern.compile("\\sxmlns:([\\w.-]+)\\s*=\\s*(?:\"([^\"<]*)\"|'([^'<]*)')");

    /** What was sent. @param id it is kept under; null when it is not kept. @param request the message as text */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Sent(@Nullable Long id, String url, List<String[]> requestHeaders, String request) {}

    /**
     * How it went.
     *
     * @param problem why no answer came, or why it cannot be used; null when all is well
     * @param code of the failure, as flows test it; null likewise
     * @param todo about it, in words; null likewise
     * @param way how it got there; null when that is not known any more
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Went(
            String outcome,
            @Nullable String problem,
            @Nullable String code,
            @Nullable String todo,
            int status,
            long waitMicros,
            long readMicros,
            @Nullable WayView way) {}

    /**
     * What came back, read.
     *
     * @param tree the body; null when it could not be read
     * @param headers of the envelope; null likewise
     * @param answerNotes what does not fit the schema
     * @param prefixes of the answer, for expressions over it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Came(
            List<String[]> answerHeaders,
            String answer,
            int answerBytes,
            @Nullable List<Tree> tree,
            @Nullable List<Tree> headers,
            @Nullable FaultView fault,
            List<Problem> answerNotes,
            Map<String, String> prefixes) {}

    public record FaultView(
            String code,
            @Nullable String reason,
            @Nullable String actor,
            String name,
            @Nullable Tree detail) {}

    /** @param id it is kept under; null when it is not kept */
    static BenchAnswer of(
            Long id, OperationCaller.Result r, Contract contract, Contract.Port port, Operation operation) {
        Exchange x = r.exchange();
        Fault f = r.answer() == null ? null : r.answer().fault();
        List<Tree> tree = r.answer() == null
                ? null
                : r.answer().body().stream().map(Trees::of).toList();
        MessageForm form = MessageForm.of(contract, port, operation);
        String text = form.text(x);
        boolean hasAnswer = r.answer() != null && f == null && operation.answer() != null && x.answer().length > 0;
        FaultView fault = f == null
                ? null
                : new FaultView(
                        f.code(), f.reason(), f.actor(), f.name(), f.detail() == null ? null : Trees.of(f.detail()));
        return new BenchAnswer(
                new Sent(id, x.url(), x.requestHeaders(), new String(x.request(), StandardCharsets.UTF_8)),
                new Went(
                        x.outcome().words(),
                        r.failure() == null || f != null
                                ? x.problem()
                                : r.failure().text(),
                        r.failure() == null ? null : r.failure().code(),
                        r.failure() == null
                                ? null
                                : FailureCode.of(r.failure().code())
                                        .map(FailureCode::todo)
                                        .orElse(null),
                        x.status(),
                        x.waitMicros(),
                        x.readMicros(),
                        WayView.of(x)),
                new Came(
                        x.answerHeaders(),
                        text,
                        x.answer().length,
                        tree,
                        r.answer() == null
                                ? null
                                : r.answer().headers().stream().map(Trees::of).toList(),
                        fault,
                        hasAnswer ? form.checkAnswer(text) : List.of(),
                        prefixes(text)));
    }

    /** The prefixes an answer declares, the outermost winning. */
    static Map<String, String> prefixes(String text) {
        Map<String, String> out = new LinkedHashMap<>();
        Matcher m = DECLARATION.matcher(text);
        while (m.find() && out.size() < MAX_PREFIXES) {
            out.putIfAbsent(m.group(1), m.group(2) == null ? m.group(3) : m.group(2));
        }
        return out;
    }
}
