package org.wirekettle.demo.tidedesk;

import io.vertx.core.buffer.Buffer;
import java.io.ByteArrayInputStream;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.DateTimeException;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.util.HashMap;
import java.util.Map;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.wirekettle.demo.SoapText;

/**
 * The stand-in for the tide desk. Answers are worked out from the request alone, so the same question has the same
 * answer.
 */
public final class TideDesk {
    private static final String NS = "urn:tallow-reach:tidedesk";
    private static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";
    private static final String SOAP12 = "http://www.w3.org/2003/05/soap-envelope";
    private static final Map<String, String[]> PORTS = Map.of(
            "TLWRC",
            new String[] {"Tallow Reach", "11.5"},
            "OSTRY",
            new String[] {"Ostrey", "8.0"},
            "PELLW",
            new String[] {"Pellow Sound", "9.5"},
            "SKARN",
            new String[] {"Skarn Haven", "13.0"});
    private static final String[] BERTHS = {"E1", "E4", "E7", "W2", "W3"};

    private final XMLInputFactory xml = XMLInputFactory.newFactory();

    public TideDesk() {
        xml.setProperty(XMLInputFactory.SUPPORT_DTD, false);
    }

    /** What to send back. */
    public record Answer(int status, String contentType, Buffer body) {}

    /** @param baseUrl how clients reach this server */
    public static String wsdl(String baseUrl) {
        return SoapText.resource("/tidedesk/tidedesk.wsdl", baseUrl);
    }

    /**
     * What the desk has announced for next season: a field renamed, one more required, one limit tighter, a new
     * operation to come.
     */
    public static String nextWsdl(String baseUrl) {
        return wsdl(baseUrl)
                .replace("name=\"arrival\" type=\"xs:dateTime\"", "name=\"arrivalUtc\" type=\"xs:dateTime\"")
                .replace("<xs:maxInclusive value=\"30\"/>", "<xs:maxInclusive value=\"25\"/>")
                .replace(
                        "<xs:element name=\"depth\" type=\"xs:decimal\"/>",
                        "<xs:element name=\"depth\" type=\"xs:decimal\"/><xs:element name=\"tug\" type=\"xs:string\""
                                + " minOccurs=\"0\"/>")
                .replace(
                        "<xs:element name=\"closesAt\" type=\"xs:dateTime\"/>",
                        "<xs:element name=\"closesAt\" type=\"xs:dateTime\" minOccurs=\"0\"/>");
    }

    public Answer answer(byte[] request) {
        Map<String, String> values = new HashMap<>();
        try {
            String envelope = read(request, values);
            if (values.containsKey("ListPorts")) {
                return ok(envelope, ports());
            }
            if (!values.containsKey("GetTideWindow")) {
                return fault(envelope, true, "The desk has no such operation.", "");
            }
            return window(envelope, values);
        } catch (XMLStreamException e) {
            return fault(SOAP11, true, "The request is not XML.", "");
        }
    }

    private String read(byte[] request, Map<String, String> values) throws XMLStreamException {
        XMLStreamReader in = xml.createXMLStreamReader(new ByteArrayInputStream(request));
        String envelope = SOAP11;
        int depth = 0;
        while (in.hasNext()) {
            int event = in.next();
            if (event == XMLStreamConstants.START_ELEMENT) {
                if (depth == 0) {
                    envelope = in.getNamespaceURI();
                } else if (depth == 2) {
                    values.put(in.getLocalName(), "");
                } else if (depth == 3
                        && NS.equals(in.getNamespaceURI())
                        && !in.getLocalName().equals("vessel")) {
                    values.put(in.getLocalName(), in.getElementText());
                    depth--;
                }
                depth++;
            } else if (event == XMLStreamConstants.END_ELEMENT) {
                depth--;
            }
        }
        in.close();
        return envelope;
    }

    private static Answer window(String envelope, Map<String, String> values) {
        String code = values.getOrDefault("portCode", "");
        String[] port = PORTS.get(code);
        if (port == null) {
            return fault(
                    envelope,
                    true,
                    "The port “" + SoapText.escape(code) + "” is not served by this desk.",
                    "<t:UnknownPort xmlns:t=\"" + NS + "\"><t:portCode>" + SoapText.escape(code)
                            + "</t:portCode></t:UnknownPort>");
        }
        LocalDateTime arrival;
        BigDecimal draught;
        try {
            String text = values.getOrDefault("arrival", "").strip();
            arrival = text.matches(".*(Z|[+-]\\d\\d:\\d\\d)$")
                    ? OffsetDateTime.parse(text).toLocalDateTime()
                    : LocalDateTime.parse(text);
            draught = new BigDecimal(values.getOrDefault("draught", "").strip());
        } catch (DateTimeException | NumberFormatException e) {
            return fault(envelope, true, "The arrival or the draught cannot be read.", "");
        }
        int seed = Math.floorMod(code.hashCode() * 31 + arrival.getDayOfYear() * 7 + arrival.getHour(), 97);
        LocalDateTime opens = arrival.plusMinutes(15 + seed);
        BigDecimal clearance = new BigDecimal(port[1])
                .add(BigDecimal.valueOf(seed % 30, 1))
                .subtract(draught)
                .setScale(1, RoundingMode.HALF_UP);
        StringBuilder out = new StringBuilder(800)
                .append("<t:GetTideWindowResponse xmlns:t=\"")
                .append(NS)
                .append("\"><t:window ref=\"TW-")
                .append(code)
                .append('-')
                .append(arrival.getDayOfYear())
                .append(String.format("%02d%02d", arrival.getHour(), arrival.getMinute()))
                .append("\"><t:opensAt>")
                .append(time(opens))
                .append("</t:opensAt><t:closesAt>")
                .append(time(opens.plusMinutes(45 + seed % 40)))
                .append("</t:closesAt><t:clearance>")
                .append(clearance)
                .append("</t:clearance>");
        for (int i = 0; i < 1 + seed % 5; i++) {
            out.append("<t:slot><t:berth>")
                    .append(BERTHS[(seed + i) % BERTHS.length])
                    .append("</t:berth><t:from>")
                    .append(time(opens.plusMinutes(10L * i)))
                    .append("</t:from><t:depth>")
                    .append(BigDecimal.valueOf(80 + (seed + i * 13) % 45, 1))
                    .append("</t:depth></t:slot>");
        }
        return ok(envelope, out.append("</t:window></t:GetTideWindowResponse>").toString());
    }

    private static String time(LocalDateTime t) {
        StringBuilder out = new StringBuilder(19);
        out.append(t.getYear()).append('-');
        two(out, t.getMonthValue()).append('-');
        two(out, t.getDayOfMonth()).append('T');
        two(out, t.getHour()).append(':');
        return two(out, t.getMinute()).append(":00").toString();
    }

    private static StringBuilder two(StringBuilder out, int n) {
        return n < 10 ? out.append('0').append(n) : out.append(n);
    }

    private static String ports() {
        StringBuilder out = new StringBuilder("<t:ListPortsResponse xmlns:t=\"" + NS + "\">");
        PORTS.entrySet().stream().sorted(Map.Entry.comparingByKey()).forEach(p -> out.append("<t:port><t:code>")
                .append(p.getKey())
                .append("</t:code><t:name>")
                .append(p.getValue()[0])
                .append("</t:name><t:depth>")
                .append(p.getValue()[1])
                .append("</t:depth></t:port>"));
        return out.append("</t:ListPortsResponse>").toString();
    }

    private static Answer ok(String envelope, String body) {
        return new Answer(
                200,
                type(envelope),
                Buffer.buffer("<?xml version=\"1.0\" encoding=\"UTF-8\"?><e:Envelope xmlns:e=\"" + envelope
                        + "\"><e:Body>" + body + "</e:Body></e:Envelope>"));
    }

    private static String type(String envelope) {
        return SOAP12.equals(envelope) ? "application/soap+xml; charset=utf-8" : "text/xml; charset=utf-8";
    }

    /** @param sender whether the request is to blame */
    public static Answer fault(String envelope, boolean sender, String reason, String detail) {
        String body = SOAP12.equals(envelope)
                ? "<e:Fault><e:Code><e:Value>e:" + (sender ? "Sender" : "Receiver")
                        + "</e:Value></e:Code><e:Reason><e:Text xml:lang=\"en\">" + reason + "</e:Text></e:Reason>"
                        + (detail.isEmpty() ? "" : "<e:Detail>" + detail + "</e:Detail>") + "</e:Fault>"
                : "<e:Fault><faultcode>e:" + (sender ? "Client" : "Server") + "</faultcode><faultstring>" + reason
                        + "</faultstring>" + (detail.isEmpty() ? "" : "<detail>" + detail + "</detail>") + "</e:Fault>";
        Answer a = ok(envelope, body);
        return new Answer(SOAP12.equals(envelope) && sender ? 400 : 500, a.contentType(), a.body());
    }
}
