package org.wirekettle.call;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.soap.Addressing;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.Envelopes.Answer;
import org.wirekettle.soap.Envelopes.Unreadable;
import org.wirekettle.soap.Security;
import org.wirekettle.soap.SoapVersion;

/** Calls one operation: envelope, SOAPAction, transport, answer. Shareable by threads. */
public final class SoapCaller {
    private final Operation operation;
    private final SoapVersion version;
    private final HttpCaller http;
    private final String contentType;
    private final List<String[]> headers;
    private final Security security;

    public SoapCaller(Port port, Operation operation, HttpCaller http) {
        this(port, operation, http, Clock.systemUTC());
    }

    SoapCaller(Port port, Operation operation, HttpCaller http, Clock clock) {
        HttpSettings s = http.settings();
        this.security = s.message().isSecured() ? new Security(s.message().token(), s.message().timestamp(), s.user(), s.password(), clock) : null;
        this.operation = operation;
        this.version = SoapVersion.of(port.protocol());
        this.http = http;
        this.contentType = version.contentType(operation.action());
        this.headers = version == SoapVersion.SOAP11 ? List.<String[]>of(new String[] {"SOAPAction", "\"" + operation.action() + "\""}) : List.of();
    }

    /** What the call came to. {@code failure} is null exactly when {@code answer} can be picked from. */
    public record Result(Exchange exchange, Answer answer, Failure failure) {}

    /**
     * Why there is no usable answer.
     *
     * @param code for grouping: {@code fault Name}, {@code HTTP 503}, {@code unreachable}, {@code no answer}, {@code unreadable answer}
     */
    public record Failure(String code, String text) {}

    public byte[] envelope(String headerXml, String bodyXml) {
        String headers = !http.settings().message().addressing() ? headerXml
                : Addressing.headers(operation.addressingAction(), http.settings().url(), "urn:uuid:" + java.util.UUID.randomUUID()) + headerXml;
        return Envelopes.write(version, operation.use(), headers, bodyXml);
    }

    /** Posts without looking at the answer. What the connection adds for security is new each time, and masked in the exchange. */
    public Exchange send(byte[] envelope) {
        if (security == null) {
            return http.post(contentType, headers, envelope);
        }
        Security.Secured secured = security.secure(envelope);
        return http.post(contentType, headers, secured.sent()).showing(secured.shown());
    }

    public Result call(byte[] envelope) {
        return judge(send(envelope));
    }

    /** Reads an exchange, now or later from what was kept of it. */
    public Result judge(Exchange x) {
        if (x.outcome() != Outcome.ANSWERED) {
            return new Result(x, null, new Failure(x.outcome() == Outcome.UNREACHABLE ? "unreachable" : "no answer", x.problem()));
        }
        boolean success = x.status() >= 200 && x.status() < 300;
        if (success && (operation.answer() == null || x.status() == 202) && x.answer().length == 0) {
            return new Result(x, new Answer(List.of(), List.of(), null), null);
        }
        try {
            Answer answer = Envelopes.read(x.answer());
            Optional<Failure> fault = Optional.ofNullable(answer.fault()).map(f -> new Failure("fault " + f.name(), f.reason() == null ? "no reason given" : f.reason()));
            if (fault.isEmpty() && !success) {
                return new Result(x, answer, new Failure("HTTP " + x.status(), "the service answered with HTTP status " + x.status()));
            }
            return new Result(x, answer, fault.orElse(null));
        } catch (Unreadable e) {
            return new Result(x, null, success ? new Failure("unreadable answer", e.getMessage()) : new Failure("HTTP " + x.status(), "HTTP status " + x.status() + "; " + e.getMessage()));
        }
    }
}
