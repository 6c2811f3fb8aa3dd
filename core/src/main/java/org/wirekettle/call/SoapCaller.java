package org.wirekettle.call;

import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.attachment.AttachmentSettings;
import org.wirekettle.attachment.Outgoing;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation;
import org.wirekettle.mapping.Fill;
import org.wirekettle.soap.Addressing;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.Envelopes.Answer;
import org.wirekettle.soap.Envelopes.Unreadable;
import org.wirekettle.soap.MessageSignature;
import org.wirekettle.soap.Security;
import org.wirekettle.soap.SignatureCheck;
import org.wirekettle.soap.SoapVersion;

/** Calls a SOAP operation: envelope, security, SOAPAction, transport, answer. Shareable by threads. */
final class SoapCaller extends OperationCaller {
    /** A signature is made over a message with its files inside, in memory. */
    private static final int MAX_SIGNED_BYTES = 32 * 1024 * 1024;

    private final Operation operation;
    private final SoapVersion version;
    private final String contentType;
    private final List<String[]> headers;
    private final Security security;
    private final MessageSignature signature;
    private final SignatureCheck check;
    private final AttachmentSettings attachments;
    private volatile boolean isAttaching = true;

    /**
     * @param clock for what messages say of the time (WS-Security 1.1 §10)
     * @param errors how an answer says that it failed; null for never
     */
    SoapCaller(Port port, Operation operation, HttpCaller http, Clock clock, @Nullable ErrorRule errors) {
        super(http, errors, operation.request().root());
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
        this.attachments = m.attachments();
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

    @Override
    public byte[] message(String headerXml, String bodyXml) {
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
        String free = http.settings().message().headers();
        return Envelopes.write(version, operation.use(), free.isEmpty() ? headers : headers + free, bodyXml);
    }

    @Override
    public Fill whole(Fill fill) {
        MessageSettings s = http.settings().message();
        return s.addressing() || !s.headers().isEmpty() || operation.use() == Operation.Use.ENCODED
                ? fill
                : fill.within(Envelopes.head(version), Envelopes.tail());
    }

    /**
     * Posts without looking at the answer. What the connection adds for security is new each time, and masked in the
     * exchange.
     */
    @Override
    Exchange send(byte[] envelope, List<String[]> more) {
        Security.Secured secured =
                security == null ? new Security.Secured(envelope, envelope) : security.secure(envelope);
        if (signature == null) {
            Exchange x = checked(posted(encoded(secured.sent()), more));
            return security == null ? x : x.showing(encoded(secured.shown()));
        }
        byte[] signed;
        try {
            signed = signature.sign(Outgoing.whole(secured.sent(), MAX_SIGNED_BYTES, attachments));
        } catch (IOException e) {
            return http.notMade(secured.shown(), FailureCode.UNREACHABLE, e.getMessage());
        }
        return checked(posted(encoded(signed), more)).showing(encoded(Security.shown(signed)));
    }

    /** With the files that it names. */
    private Exchange posted(byte[] message, List<String[]> more) {
        List<String[]> all = headers;
        if (!more.isEmpty()) {
            all = new ArrayList<>(more);
            all.addAll(headers);
        }
        if (!isAttaching) {
            return http.post(contentType, all, message);
        }
        Outgoing whole;
        try {
            whole = Outgoing.of(message, http.settings().manner().charset(), contentType, attachments);
        } catch (IOException e) {
            return http.notMade(message, FailureCode.UNSENDABLE, "the call is not made: " + e.getMessage());
        }
        return whole == null ? http.post(contentType, all, message) : http.post(whole, all, message);
    }

    @Override
    public boolean takesFiles() {
        return true;
    }

    /** A message that names no file needs not be looked through for one. */
    @Override
    public void knowsFiles(boolean mayName) {
        isAttaching = mayName || attachments.format() == AttachmentSettings.Format.MTOM;
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

    @Override
    Result read(Exchange x) {
        boolean success = x.status() >= 200 && x.status() < 300;
        if (success && (operation.answer() == null || x.status() == 202) && x.answer().length == 0) {
            return new Result(x, new Answer(List.of(), List.of(), null), null);
        }
        try {
            Answer answer = x.envelope().knowing(operation.faults());
            if (x.code() != null && answer.fault() == null) {
                return new Result(x, null, new Failure(x.code().code(), x.problem()));
            }
            Optional<Failure> fault = Optional.ofNullable(answer.fault())
                    .map(f -> new Failure(FailureCode.FAULT.code() + " " + f.name(), f.words()));
            if (fault.isEmpty() && !success) {
                return new Result(
                        x, answer, new Failure(status(x), "the service answered with HTTP status " + x.status()));
            }
            return new Result(x, answer, fault.or(() -> ruled(answer)).orElse(null));
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
}
