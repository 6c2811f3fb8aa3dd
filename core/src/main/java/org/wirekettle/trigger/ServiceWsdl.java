package org.wirekettle.trigger;

import java.util.List;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.Escape;

/** Writes WSDL 1.1 of operations with messages of their own: document/literal wrapped, SOAP 1.1 and 1.2. Used once. */
final class ServiceWsdl {
    private static final String WSDL = "http://schemas.xmlsoap.org/wsdl/";
    private static final String TRANSPORT = "http://schemas.xmlsoap.org/soap/http";
    private final StringBuilder out = new StringBuilder();
    private final List<SoapEndpoint> operations;
    private final SoapTrigger first;

    private ServiceWsdl(List<SoapEndpoint> operations) {
        this.operations = operations;
        this.first = operations.get(0).trigger();
    }

    static String of(List<SoapEndpoint> operations, String address) {
        ServiceWsdl w = new ServiceWsdl(operations);
        w.definitions(address);
        return w.out.toString();
    }

    private void definitions(String address) {
        String namespace = Escape.xml(first.namespace());
        out.append("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<wsdl:definitions name=\"")
                .append(first.service())
                .append("\" targetNamespace=\"")
                .append(namespace)
                .append("\"\n    xmlns:wsdl=\"" + WSDL + "\"\n    xmlns:xs=\"" + XmlSchemas.XSD
                        + "\"\n    xmlns:tns=\"")
                .append(namespace)
                .append("\"\n    xmlns:k=\"" + SoapFaults.NAMESPACE + "\"\n    xmlns:soap=\"" + WSDL
                        + "soap/\"\n    xmlns:soap12=\"" + WSDL + "soap12/\">\n");
        types(namespace);
        for (SoapEndpoint o : operations) {
            String name = o.trigger().operation();
            OwnMessages m = messages(o);
            message(name, "parameters", "tns:" + m.request().local());
            message(name + "Response", "parameters", "tns:" + m.answer().local());
        }
        message(SoapFaults.UNFIT, "fault", "k:" + SoapFaults.UNFIT);
        message(SoapFaults.NOT_DONE, "fault", "k:" + SoapFaults.NOT_DONE);
        portType();
        for (SoapVersion v : SoapVersion.values()) {
            binding(v);
        }
        out.append("<wsdl:service name=\"").append(first.service()).append("\">\n");
        for (SoapVersion v : SoapVersion.values()) {
            out.append("  <wsdl:port name=\"")
                    .append(binding(first, v))
                    .append("\" binding=\"tns:")
                    .append(binding(first, v))
                    .append("\"><")
                    .append(prefix(v))
                    .append(":address location=\"")
                    .append(Escape.xml(address))
                    .append("\"/></wsdl:port>\n");
        }
        out.append("</wsdl:service>\n</wsdl:definitions>\n");
    }

    private static OwnMessages messages(SoapEndpoint o) {
        return (OwnMessages) o.messages();
    }

    private static String prefix(SoapVersion v) {
        return v == SoapVersion.SOAP11 ? "soap" : "soap12";
    }

    private static String binding(SoapTrigger t, SoapVersion v) {
        return t.service() + (v == SoapVersion.SOAP11 ? "Soap11" : "Soap12");
    }

    private void types(String namespace) {
        out.append("<wsdl:types>\n<xs:schema targetNamespace=\"")
                .append(namespace)
                .append("\" elementFormDefault=\"qualified\">\n");
        for (SoapEndpoint o : operations) {
            OwnMessages m = messages(o);
            element(m.request().local(), m.requestType());
            element(m.answer().local(), m.answerType());
        }
        out.append("</xs:schema>\n").append(SoapFaults.SCHEMA).append("</wsdl:types>\n");
    }

    private void element(String name, String type) {
        out.append("<xs:element name=\"")
                .append(name)
                .append("\">")
                .append(type)
                .append("</xs:element>\n");
    }

    private void message(String name, String part, String element) {
        out.append("<wsdl:message name=\"")
                .append(name)
                .append("\"><wsdl:part name=\"")
                .append(part)
                .append("\" element=\"")
                .append(element)
                .append("\"/></wsdl:message>\n");
    }

    private void portType() {
        out.append("<wsdl:portType name=\"").append(first.service()).append("\">\n");
        for (SoapEndpoint o : operations) {
            String name = o.trigger().operation();
            out.append("  <wsdl:operation name=\"").append(name).append("\">");
            String text = o.trigger().text();
            if (text != null && !text.isBlank()) {
                out.append("<wsdl:documentation>");
                Escape.text(text, out);
                out.append("</wsdl:documentation>");
            }
            out.append("\n    <wsdl:input message=\"tns:")
                    .append(name)
                    .append("\"/>\n    <wsdl:output message=\"tns:")
                    .append(name)
                    .append("Response\"/>\n");
            for (String fault : List.of(SoapFaults.UNFIT, SoapFaults.NOT_DONE)) {
                out.append("    <wsdl:fault name=\"")
                        .append(fault)
                        .append("\" message=\"tns:")
                        .append(fault)
                        .append("\"/>\n");
            }
            out.append("  </wsdl:operation>\n");
        }
        out.append("</wsdl:portType>\n");
    }

    private void binding(SoapVersion v) {
        String p = prefix(v);
        out.append("<wsdl:binding name=\"")
                .append(binding(first, v))
                .append("\" type=\"tns:")
                .append(first.service())
                .append("\">\n  <")
                .append(p)
                .append(":binding style=\"document\" transport=\"" + TRANSPORT + "\"/>\n");
        for (SoapEndpoint o : operations) {
            out.append("  <wsdl:operation name=\"")
                    .append(o.trigger().operation())
                    .append("\"><")
                    .append(p)
                    .append(":operation soapAction=\"")
                    .append(Escape.xml(o.action()))
                    .append("\" style=\"document\"/>\n");
            for (String way : List.of("input", "output")) {
                out.append("    <wsdl:")
                        .append(way)
                        .append("><")
                        .append(p)
                        .append(":body use=\"literal\"/></wsdl:")
                        .append(way)
                        .append(">\n");
            }
            for (String fault : List.of(SoapFaults.UNFIT, SoapFaults.NOT_DONE)) {
                out.append("    <wsdl:fault name=\"")
                        .append(fault)
                        .append("\"><")
                        .append(p)
                        .append(":fault name=\"")
                        .append(fault)
                        .append("\" use=\"literal\"/></wsdl:fault>\n");
            }
            out.append("  </wsdl:operation>\n");
        }
        out.append("</wsdl:binding>\n");
    }
}
