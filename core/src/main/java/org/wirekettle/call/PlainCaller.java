package org.wirekettle.call;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.HttpTemplate.Form;
import org.wirekettle.contract.Operation;
import org.wirekettle.http.HttpAnswers;
import org.wirekettle.http.HttpMessage;
import org.wirekettle.http.HttpRequests;
import org.wirekettle.http.NotWritable;
import org.wirekettle.problem.Refused;
import org.wirekettle.soap.Envelopes.Answer;

/** Calls a plain HTTP operation: its message is the request itself, below the connection's address. */
final class PlainCaller extends OperationCaller {
    private final HttpRequests requests;
    private final HttpAnswers answers;

    PlainCaller(Operation operation, HttpCaller http, @Nullable ErrorRule errors) {
        super(http, errors, operation.request().root());
        this.requests = new HttpRequests(operation);
        this.answers = new HttpAnswers(operation);
    }

    @Override
    public byte[] message(String headers, String body) throws NotWritable {
        return requests.write(body).bytes();
    }

    @Override
    Exchange send(byte[] message, List<String[]> more) {
        try {
            return http.send(HttpMessage.read(message), more, message);
        } catch (Refused | IllegalArgumentException e) {
            return http.notMade(message, FailureCode.UNSENDABLE, "the request cannot be sent: " + e.getMessage());
        }
    }

    @Override
    Result read(Exchange x) {
        boolean isGood = x.status() >= 200 && x.status() < 300;
        try {
            Answer answer = answers.read(MessageForm.Plain.came(x));
            return new Result(
                    x, answer, isGood ? ruled(answer).orElse(null) : new Failure(status(x), words(x, answer)));
        } catch (HttpAnswers.Unreadable e) {
            String text = Page.is(x)
                    ? e.getMessage() + Page.title(x).map(t -> ": “" + t + "”").orElse("")
                    : e.getMessage();
            if (!isGood) {
                return new Result(x, null, new Failure(status(x), "HTTP status " + x.status() + "; " + text));
            }
            FailureCode code = e.wanted() == Form.XML ? FailureCode.NOT_XML : FailureCode.NOT_JSON;
            return new Result(x, null, new Failure(code.code(), text));
        }
    }

    private static String words(Exchange x, Answer answer) {
        String said = answer.fault().reason();
        String status = "the service answered with HTTP status " + x.status()
                + phrase(x.status()).map(p -> " (" + p + ")").orElse("");
        return said.isEmpty() ? status : status + ": " + said;
    }

    /** What a status means, in words, where it tells a caller what to do (RFC 9110 §15). */
    private static Optional<String> phrase(int status) {
        return Optional.ofNullable(org.apache.hc.core5.http.impl.EnglishReasonPhraseCatalog.INSTANCE.getReason(
                        status, Locale.ENGLISH))
                .map(p -> p.toLowerCase(Locale.ENGLISH));
    }
}
