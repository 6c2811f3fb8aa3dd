package org.wirekettle.trigger;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.EnumSet;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Taken;
import org.wirekettle.flow.Trail;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SentFault;
import org.wirekettle.soap.SoapRequest;
import org.wirekettle.soap.SoapVersion;

/** A flow that is asked as an operation of a SOAP service. Immutable; shareable. */
public final class SoapEndpoint implements Endpoint {
    private final SoapTrigger trigger;
    private final Taken taken;
    private final SoapMessages messages;
    private final Set<SoapVersion> versions;

    private SoapEndpoint(SoapTrigger trigger, Taken taken, SoapMessages messages) {
        this.trigger = trigger;
        this.taken = taken;
        this.messages = messages;
        this.versions = versions(trigger, taken);
    }

    /** @throws Refused with what does not go together */
    static SoapEndpoint of(SoapTrigger trigger, Taken taken) {
        if (taken.operation() == null) {
            return new SoapEndpoint(trigger, taken, new OwnMessages(trigger, taken));
        }
        String named = taken.operation().operation().name();
        if (!named.equals(trigger.operation())) {
            throw SoapTrigger.refused(
                    "operation", "The flow answers the operation " + named + " of a contract; it keeps its name.");
        }
        return new SoapEndpoint(trigger, taken, new ContractMessages(taken.operation()));
    }

    public SoapTrigger trigger() {
        return trigger;
    }

    public Taken taken() {
        return taken;
    }

    SoapMessages messages() {
        return messages;
    }

    /** The element by which a request asks for it; null for one whose body is empty. */
    public @Nullable QualifiedName request() {
        return messages.request();
    }

    /** The SOAPAction that the WSDL says. */
    public String action() {
        if (taken.operation() != null) {
            return taken.operation().operation().action();
        }
        return trigger.namespace() + (trigger.namespace().endsWith("/") ? "" : "/") + trigger.operation();
    }

    /** Those of a contract are what its ports say. */
    private static Set<SoapVersion> versions(SoapTrigger trigger, Taken taken) {
        return taken.operation() == null
                ? EnumSet.allOf(SoapVersion.class)
                : taken.operation().contract().ports().stream()
                        .filter(p -> p.protocol() == Protocol.SOAP11 || p.protocol() == Protocol.SOAP12)
                        .filter(p -> p.operation(trigger.operation()).isPresent())
                        .map(p -> SoapVersion.of(p.protocol()))
                        .collect(Collectors.toCollection(() -> EnumSet.noneOf(SoapVersion.class)));
    }

    @Override
    public Read read(HttpAsked asked, Instant now) {
        try {
            asked.soap().addressed();
        } catch (SoapRequest.Unfit e) {
            return new Read(null, fault(e.fault(), asked, null));
        }
        if (!versions.contains(asked.soap().version())) {
            return new Read(
                    null,
                    fault(
                            SentFault.version("The contract has this operation in the other version of SOAP."),
                            asked,
                            null));
        }
        SoapMessages.Read read = messages.read(asked.soap(), now);
        return read.problems().isEmpty()
                ? new Read(read.record(), null)
                : new Read(null, problem(asked, HttpAnswer.Body.unfit(read.problems())));
    }

    @Override
    public HttpAnswer answer(HttpAsked asked, Trail trail, long run) {
        if (trail.fate() != Fate.DONE) {
            // Whoever asks by SOAP sees the status of a fault, whatever it is.
            return problem(asked, HttpAnswer.Body.failed(trail, 500, run));
        }
        if (messages.isOneWay()) {
            return new HttpAnswer(202, null, new byte[0]);
        }
        SoapMessages.Sent sent = messages.reply(trail.reply());
        if (sent.fault() != null) {
            return fault(sent.fault(), asked, null);
        }
        SoapVersion version = asked.soap().version();
        byte[] envelope = Envelopes.write(version, messages.use(), headers(asked) + sent.headers(), sent.body());
        return new HttpAnswer(200, version.contentType("", StandardCharsets.UTF_8), envelope);
    }

    private static String headers(HttpAsked asked) {
        try {
            return asked.soap() == null ? "" : asked.soap().addressed();
        } catch (SoapRequest.Unfit e) {
            return "";
        }
    }

    @Override
    public HttpAnswer problem(HttpAsked asked, HttpAnswer.Body problem) {
        return fault(problem, asked);
    }

    /** A problem of a request of which nothing is known. */
    public static HttpAnswer fault(HttpAnswer.Body problem, HttpAsked asked) {
        // These HTTP itself has a meaning for, and clients heed it.
        boolean isByToken = asked.soap() != null && asked.soap().token().isPresent();
        boolean isHttp = !isByToken && (problem.status() == 401 || problem.status() == 403)
                || problem.status() == 404
                || problem.status() == 405
                || problem.status() == 413
                || problem.status() == 415
                || problem.status() == 429
                || problem.status() == 503;
        return fault(SoapFaults.of(problem), asked, isHttp ? problem.status() : null);
    }

    /** @param status of HTTP; null for that of the fault */
    public static HttpAnswer fault(SentFault fault, HttpAsked asked, @Nullable Integer status) {
        SoapVersion usual =
                asked.soap() == null ? SoapService.usual(asked) : asked.soap().version();
        SentFault whole = fault.with(headers(asked));
        return new HttpAnswer(
                status == null ? whole.status(usual) : status,
                (whole.version() == null ? usual : whole.version()).contentType("", StandardCharsets.UTF_8),
                whole.write(usual));
    }

    @Override
    public String content(HttpAsked asked) {
        return asked.soap().body().stream().map(NodeXml::write).collect(Collectors.joining("\n"));
    }

    /** A request for a sample. @throws Refused when the sample is none */
    public SoapSample sample(String of) {
        SoapVersion version = versions.contains(SoapVersion.SOAP11) ? SoapVersion.SOAP11 : SoapVersion.SOAP12;
        byte[] envelope = Envelopes.write(version, messages.use(), "", messages.request(of));
        return new SoapSample(version, action(), new String(envelope, StandardCharsets.UTF_8));
    }
}
