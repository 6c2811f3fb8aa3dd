package org.wirekettle.call;

import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.shape.Shape;
import org.wirekettle.soap.Addressing;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.Envelopes.Answer;
import org.wirekettle.soap.Envelopes.Unreadable;
import org.wirekettle.soap.MessageSignature;
import org.wirekettle.soap.Security;
import org.wirekettle.soap.SignatureCheck;
import org.wirekettle.soap.SoapVersion;

/** Calls one operation: envelope, SOAPAction, transport, answer. Shareable by threads. */
public final class SoapCaller {
    private static final long PATIENCE_MILLIS = 10_000;

    private final Operation operation;
    private final SoapVersion version;
    private final HttpCaller http;
    private final String contentType;
    private final List<String[]> headers;
    private final Security security;
    private final MessageSignature signature;
    private final SignatureCheck check;
    private final ErrorRule errors;

    public SoapCaller(Port port, Operation operation, HttpCaller http) {
        this(port, operation, http, Clock.systemUTC());
    }

    public SoapCaller(Port port, Operation operation, HttpCaller http, Clock clock) {
        this(port, operation, http, clock, null);
    }

    /**
     * @param clock for what messages say of the time (WS-Security 1.1 §10)
     * @param errors how an answer says that it failed; null for never
     */
    public SoapCaller(Port port, Operation operation, HttpCaller http, Clock clock, @Nullable ErrorRule errors) {
        this.errors = errors;
        HttpSettings s = http.settings();
        this.operation = operation;
        this.version = SoapVersion.of(port.protocol());
        MessageSettings m = s.message();
        String secured = version.headerAttributes(!Boolean.FALSE.equals(m.mustUnderstand()), m.role());
        this.security = m.isSecured()
                ? new Security(
                        m.token(),
                        m.timestamp() ? Duration.ofSeconds(m.timestampSeconds()) : null,
                        s.logIn().user(),
                        s.logIn().password(),
                        secured,
                        clock)
                : null;
        this.signature = signature(m.signing(), secured);
        this.check = check(s, clock);
        this.http = http;
        this.contentType = version.contentType(operation.action(), s.manner().charset());
        this.headers = version == SoapVersion.SOAP11
                ? List.<String[]>of(new String[] {"SOAPAction", "\"" + operation.action() + "\""})
                : List.of();
    }

    private static @Nullable MessageSignature signature(MessageSigning s, String attributes) {
        return s.own() == null || s.parts().isEmpty()
                ? null
                : new MessageSignature(s.own().key(), s.own().chain().get(0), s.parts(), s.reference(), attributes);
    }

    private static @Nullable SignatureCheck check(HttpSettings s, Clock clock) {
        MessageSigning signing = s.message().signing();
        TlsTrust trust = s.tls().trust();
        return signing.answers() == MessageSigning.Answers.NOT_LOOKED_AT
                ? null
                : new SignatureCheck(
                        signing.answers() == MessageSigning.Answers.REQUIRED,
                        trust.issuers(),
                        trust::believes,
                        Duration.ofSeconds(signing.skewSeconds()),
                        clock);
    }

    /** What the call came to. {@code failure} is null exactly when {@code answer} can be picked from. */
    public record Result(Exchange exchange, Answer answer, Failure failure) {}

    /**
     * Why there is no usable answer.
     *
     * @param code by the table of {@link FailureCode}, such as {@code fault Name}, {@code HTTP 503}, {@code refused}
     */
    public record Failure(String code, String text) {}

    public byte[] envelope(String headerXml, String bodyXml) {
        String headers = !http.settings().message().addressing()
                ? headerXml
                : Addressing.headers(
                                operation.addressingAction(),
                                http.settings().url(),
                                "urn:uuid:" + java.util.UUID.randomUUID(),
                                version.headerAttributes(
                                        Boolean.TRUE.equals(
                                                http.settings().message().mustUnderstand()),
                                        http.settings().message().role()))
                        + headerXml;
        return Envelopes.write(version, operation.use(), headers, bodyXml);
    }

    /**
     * Posts without looking at the answer. What the connection adds for security is new each time, and masked in the
     * exchange.
     */
    public Exchange send(byte[] envelope) {
        Security.Secured secured =
                security == null ? new Security.Secured(envelope, envelope) : security.secure(envelope);
        if (signature == null) {
            Exchange x = checked(http.post(contentType, headers, encoded(secured.sent())));
            return security == null ? x : x.showing(encoded(secured.shown()));
        }
        byte[] signed;
        try {
            signed = signature.sign(secured.sent());
        } catch (IOException e) {
            return http.notMade(secured.shown(), FailureCode.UNREACHABLE, e.getMessage());
        }
        return checked(http.post(contentType, headers, encoded(signed))).showing(encoded(Security.shown(signed)));
    }

    /**
     * An answer's signature and time are looked at when it arrives, and what was found is kept with it: read again
     * later its time is over, and what is masked of it was signed otherwise.
     */
    private Exchange checked(Exchange x) {
        if (check == null || x.outcome() != Outcome.ANSWERED || x.answer().length == 0) {
            return x;
        }
        return check.problem(x.answer())
                .map(why -> x.refused(FailureCode.SIGNATURE, why))
                .orElse(x);
    }

    private byte[] encoded(byte[] envelope) {
        return DeclaredCharset.encoded(envelope, http.settings().manner().charset());
    }

    /** Likewise, as soon as the limits of the connection let it; not at all while the service stays away. */
    public Exchange within(CallLimits limits, byte[] envelope) {
        return limits.enter()
                ? entered(limits, envelope)
                : http.notMade(
                        envelope,
                        FailureCode.AWAY,
                        "other calls do not reach the service, and one asks from time to time");
    }

    /** By hand, somebody waits for it: only for a while. */
    public Exchange soon(CallLimits limits, byte[] envelope) {
        if (!limits.enter(PATIENCE_MILLIS)) {
            return http.notMade(
                    envelope,
                    FailureCode.BUSY,
                    "other calls take all that this connection's limits allow, or all wait since the service is away");
        }
        return entered(limits, envelope);
    }

    private Exchange entered(CallLimits limits, byte[] envelope) {
        Exchange x = null;
        try {
            x = send(envelope);
            return x;
        } finally {
            limits.leave(x);
        }
    }

    public Result call(byte[] envelope) {
        return judge(send(envelope));
    }

    /**
     * Fills and calls by hand, with what the connection fills of every call; once more should its session have ended.
     *
     * @param own rules of the call
     * @return the exchange as it may be shown
     * @throws ServiceSession.NoSession when it needs one and none can be had
     */
    public Result call(ConnectionHeaders given, List<Rule> own, Expressions expressions, Scope scope, CallLimits limits)
            throws ServiceSession.NoSession {
        Shape request = operation.request().root();
        List<Rule> rules = given.beside(own, request);
        ServiceSession session = given.isNeededBy(rules) ? given.session() : null;
        Fill fill = Fill.compile(
                new Mapping(rules),
                request,
                session == null ? expressions : expressions.alsoKnowing(ServiceSession.VARIABLE));
        for (int attempt = 1; ; attempt++) {
            ServiceSession.Login used = session == null ? null : session.current();
            Fill.Filled f = fill.run(ConnectionHeaders.in(scope, used));
            Result r = judge(
                    hiding(used).soon(limits, envelope(f.headers(), f.body())).shown());
            if (attempt > 1
                    || session == null
                    || r.failure() == null
                    || !session.isEnd(r.failure().code())) {
                return r;
            }
            session.ended(used);
        }
    }

    /** What a call's session is is shown to nobody. @param used null for none */
    public SoapCaller hiding(ServiceSession.@Nullable Login used) {
        if (used != null) {
            http.hide(used.token());
        }
        return this;
    }

    /** An exchange that was kept, with the secrets that may not be shown of it. */
    public Exchange remembered(Exchange x) {
        return x.masking(http.mask());
    }

    /** Ends the calls under way. */
    public void abort() {
        http.abort();
    }

    /** Reads an exchange, now or later from what was kept of it. */
    public Result judge(Exchange x) {
        Result r = read(x);
        // A fault's text may repeat what was sent.
        return r.failure() == null
                ? r
                : new Result(
                        x,
                        r.answer(),
                        new Failure(
                                http.mask().hide(r.failure().code()),
                                http.mask().hide(r.failure().text())));
    }

    private Result read(Exchange x) {
        if (x.outcome() != Outcome.ANSWERED) {
            return new Result(x, null, new Failure(x.code().code(), x.problem()));
        }
        boolean success = x.status() >= 200 && x.status() < 300;
        if (success && (operation.answer() == null || x.status() == 202) && x.answer().length == 0) {
            return new Result(x, new Answer(List.of(), List.of(), null), null);
        }
        try {
            Answer answer = Envelopes.read(x.xml()).knowing(operation.faults());
            if (x.code() != null && answer.fault() == null) {
                return new Result(x, null, new Failure(x.code().code(), x.problem()));
            }
            Optional<Failure> fault = Optional.ofNullable(answer.fault())
                    .map(f -> new Failure(FailureCode.FAULT.code() + " " + f.name(), f.words()));
            if (fault.isEmpty() && !success) {
                return new Result(
                        x, answer, new Failure(status(x), "the service answered with HTTP status " + x.status()));
            }
            if (fault.isEmpty() && errors != null && answer.payload() != null) {
                fault = errors.find(answer.payload());
            }
            return new Result(x, answer, fault.orElse(null));
        } catch (Unreadable e) {
            return new Result(x, null, unreadable(x, e, success));
        }
    }

    private static Failure unreadable(Exchange x, Unreadable e, boolean isSuccess) {
        boolean isPage = Page.is(x);
        String text = !isPage
                ? e.getMessage()
                : "the answer is a page for people"
                        + Page.title(x).map(t -> ", “" + t + "”").orElse("") + ", and no SOAP message";
        if (!isSuccess) {
            return new Failure(status(x), "HTTP status " + x.status() + "; " + text);
        }
        return new Failure((isPage || e.isXml() ? FailureCode.NOT_SOAP : FailureCode.NOT_XML).code(), text);
    }

    private static String status(Exchange x) {
        return FailureCode.HTTP_STATUS.code() + " " + x.status();
    }
}
