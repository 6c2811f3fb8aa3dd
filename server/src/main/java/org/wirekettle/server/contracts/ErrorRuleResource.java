package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.ErrorRule;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.MessageForm;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.contract.Contract;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;

/** The rule by which an operation's answer speaks of a failure, though it comes as an answer. */
@Path("/api/contracts/{name}/operations/{operation}/rule")
public class ErrorRuleResource {
    private static final int MAX_CHARS = 4_000;
    private static final int MAX_TRIED = 20;

    private final Contracts contracts;
    private final ErrorRuleMapper rows;
    private final BenchHistory history;
    private final Expressions expressions;
    private final Json json;

    ErrorRuleResource(
            Contracts contracts, ErrorRuleMapper rows, BenchHistory history, Expressions expressions, Json json) {
        this.json = json;
        this.contracts = contracts;
        this.rows = rows;
        this.history = history;
        this.expressions = expressions;
    }

    /**
     * A rule: XPath 3.1 over the answer's first element, which is {@code $reply} too.
     *
     * @param failWhen true for a failure; null for no rule
     * @param reason of it
     * @param code of it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ErrorRuleView(
            @Nullable String failWhen,
            @Nullable String reason,
            @Nullable String code) {}

    /**
     * What a rule says of an answer that is kept.
     *
     * @param code of the failure; null when it is none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Judged(
            long id,
            OffsetDateTime sentAt,
            @Nullable String code,
            @Nullable String reason) {}

    @GET
    public ErrorRuleView get(@PathParam("name") String name, @PathParam("operation") String operation) {
        ErrorRuleMapper.Row r = rows.get(name, operation);
        return r == null ? new ErrorRuleView(null, null, null) : new ErrorRuleView(r.failWhen, r.reason, r.code);
    }

    @PUT
    public void put(@PathParam("name") String name, @PathParam("operation") String operation, ErrorRuleView in) {
        port(name, operation);
        compiled(in);
        ErrorRuleMapper.Row row = new ErrorRuleMapper.Row();
        row.failWhen = in.failWhen();
        row.reason = in.reason();
        row.code = in.code();
        rows.put(name, operation, row);
    }

    @DELETE
    public void delete(@PathParam("name") String name, @PathParam("operation") String operation) {
        contracts.get(name);
        rows.delete(name, operation);
    }

    /** What a rule says of the answers kept from the Bench, the newest first. */
    @POST
    @Path("try")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public List<Judged> tryOn(
            @PathParam("name") String name, @PathParam("operation") String operation, ErrorRuleView in) {
        Contract.Port port = port(name, operation);
        ErrorRule rule = compiled(in);
        MessageForm form = MessageForm.of(
                contracts.get(name), port, port.operation(operation).orElseThrow());
        List<Judged> out = new ArrayList<>();
        for (BenchHistory.Row r : history.list(name, port.name(), operation)) {
            if (out.size() >= MAX_TRIED || r.fault != null || r.status < 200 || r.status >= 300) {
                continue;
            }
            BenchHistory.Row kept = history.get(name, r.id);
            List<String[]> headers =
                    kept.answerHeaders == null ? List.of() : List.of(json.read(kept.answerHeaders, String[][].class));
            // No rule is about an answer that cannot be read.
            form.payload(Exchange.kept(kept.status, kept.request, headers, kept.answer))
                    .ifPresent(reply -> out.add(judged(r, rule.find(reply))));
        }
        return out;
    }

    private static Judged judged(BenchHistory.Row r, Optional<OperationCaller.Failure> found) {
        return new Judged(
                r.id,
                r.sentAt,
                found.map(OperationCaller.Failure::code).orElse(null),
                found.map(OperationCaller.Failure::text).orElse(null));
    }

    private Contract.Port port(String name, String operation) {
        return contracts.get(name).ports().stream()
                .filter(p -> p.operation(operation).isPresent())
                .findFirst()
                .orElseThrow(() -> Wrong.notFound("operation", operation));
    }

    private ErrorRule compiled(ErrorRuleView in) {
        for (String text : new String[] {in.failWhen(), in.reason(), in.code()}) {
            if (text != null && text.length() > MAX_CHARS) {
                throw Wrong.input("rule.long", "An expression of a rule has at most " + MAX_CHARS + " characters.");
            }
        }
        if (in.failWhen() == null || in.failWhen().isBlank()) {
            throw Wrong.input("rule.empty", "Say when an answer speaks of a failure.");
        }
        try {
            return new ErrorRule(new ErrorRule.Texts(in.failWhen(), in.reason(), in.code()), expressions);
        } catch (ExpressionFault e) {
            throw Wrong.input("rule.expression", e.getMessage());
        }
    }
}
