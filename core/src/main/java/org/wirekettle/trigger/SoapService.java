package org.wirekettle.trigger;

import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.wirekettle.call.DeclaredCharset;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.soap.SentFault;
import org.wirekettle.soap.SoapRequest;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.XmlText;

/** Operations that are published at one address. Immutable. */
public final class SoapService {
    private static final Set<String> TYPES = Set.of("text/xml", "application/soap+xml", "application/xml", "");

    private final List<SoapEndpoint> operations;

    private SoapService(List<SoapEndpoint> operations) {
        this.operations = operations;
    }

    /**
     * @param operations at least one
     * @throws Refused when they cannot be one service
     */
    public static SoapService of(List<SoapEndpoint> operations) {
        SoapTrigger first = operations.get(0).trigger();
        Set<String> names = new HashSet<>();
        for (SoapEndpoint o : operations) {
            if (!contract(o).equals(contract(operations.get(0)))) {
                throw SoapTrigger.refused(
                        "service",
                        "The service " + first.service() + " is " + said(contract(operations.get(0)))
                                + "; this flow is " + said(contract(o)) + ". Choose another name.");
            }
            if (!o.trigger().namespace().equals(first.namespace())) {
                throw SoapTrigger.refused(
                        "namespace",
                        "The operations of the service " + first.service() + " share a namespace: " + first.namespace()
                                + ".");
            }
            // An answer is named after its operation.
            String name = o.trigger().operation();
            if (!names.add(name) || !names.add(name + "Response")) {
                throw SoapTrigger.refused("operation", "The service " + first.service() + " has " + name + " already.");
            }
        }
        return new SoapService(List.copyOf(operations));
    }

    /** By name and namespace; empty for messages of their own. */
    private static String contract(SoapEndpoint o) {
        ContractOperation of = o.taken().operation();
        return of == null ? "" : of.contract().name() + " in " + of.contract().targetNamespace();
    }

    private static String said(String contract) {
        return contract.isEmpty() ? "one with inputs of its own" : "of the contract " + contract;
    }

    /** SOAP 1.2 has a media type of its own (SOAP 1.2 part 2 appendix A). */
    static SoapVersion usual(HttpAsked asked) {
        return type(asked).equals("application/soap+xml") ? SoapVersion.SOAP12 : SoapVersion.SOAP11;
    }

    private static String type(HttpAsked asked) {
        String type = asked.header("Content-Type");
        return type == null ? "" : type.replaceFirst(";.*", "").strip().toLowerCase(Locale.ROOT);
    }

    /**
     * Reads the message of a request.
     *
     * @throws SoapRequest.Unfit with what is answered instead
     */
    public static HttpAsked read(HttpAsked asked) throws SoapRequest.Unfit {
        byte[] body = DeclaredCharset.utf8(asked.body(), asked.header("Content-Type"));
        return asked.with(SoapRequest.read(body, XmlText.decoded(body)));
    }

    /** What is answered to a media type that is none of SOAP; empty for one that is. */
    public static Optional<HttpAnswer> refusedType(HttpAsked asked) {
        String type = type(asked);
        return TYPES.contains(type)
                ? Optional.empty()
                : Optional.of(SoapEndpoint.fault(
                        HttpAnswer.Body.of(
                                415,
                                "Content not known",
                                "request.type",
                                "A message is text/xml (SOAP 1.1) or application/soap+xml (SOAP 1.2), not " + type
                                        + "."),
                        asked));
    }

    /** Which of them a request asks for, by its body's element, or by its action where that is not enough. */
    public Optional<SoapEndpoint> find(HttpAsked asked) {
        QualifiedName payload = asked.soap().payload();
        List<SoapEndpoint> fit = operations.stream()
                .filter(o -> payload == null
                        ? o.request() == null
                        : o.request() != null && o.request().equals(payload))
                .toList();
        if (fit.isEmpty() && payload != null) {
            // Some senders leave the namespace out, or have that of the schema.
            fit = operations.stream()
                    .filter(o -> o.request() != null && o.request().local().equals(payload.local()))
                    .toList();
        }
        if (fit.size() > 1) {
            String action = action(asked);
            List<SoapEndpoint> named =
                    fit.stream().filter(o -> o.action().equals(action)).toList();
            fit = named.isEmpty() ? fit : named;
        }
        return fit.stream().findFirst();
    }

    private static String action(HttpAsked asked) {
        String said = asked.header("SOAPAction");
        String type = asked.header("Content-Type");
        String in12 =
                type == null || !type.contains("action=") ? "" : type.replaceFirst(".*action=\"?([^\";]*).*", "$1");
        return said == null ? in12 : said.strip().replace("\"", "");
    }

    /** What is answered to a request for none of them. */
    public HttpAnswer unknown(HttpAsked asked) {
        QualifiedName payload = asked.soap().payload();
        boolean isForKeys = operations.stream().anyMatch(o -> o.trigger().wsdlForKeys());
        String names = operations.stream()
                .map(o -> o.request() == null ? "an empty body" : o.request().local())
                .collect(Collectors.joining(", "));
        return SoapEndpoint.fault(
                SentFault.sender((payload == null ? "The body is empty" : "There is no operation for " + payload)
                        + (isForKeys ? "." : "; there are " + names + ".")),
                asked,
                null);
    }

    /**
     * Its description (WSDL 1.1): of a contract that of the contract, its addresses being ours.
     *
     * @param address where it is asked
     * @param part which document; 0 for the one that others belong to
     * @return empty when there is no such document
     */
    public Optional<String> wsdl(String address, int part) {
        ContractOperation of = operations.get(0).taken().operation();
        return of != null
                ? ReaddressedWsdl.of(of.contract(), address, part)
                : part == 0 ? Optional.of(ServiceWsdl.of(operations, address)) : Optional.empty();
    }
}
