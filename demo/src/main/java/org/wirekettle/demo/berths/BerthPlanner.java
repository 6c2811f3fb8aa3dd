package org.wirekettle.demo.berths;

import io.vertx.core.buffer.Buffer;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.security.SecureRandom;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.w3c.dom.Element;
import org.wirekettle.demo.SoapText;
import org.wirekettle.demo.tidedesk.TideDesk;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;
import org.xml.sax.SAXException;

/** Berths of the harbour: for those with a session, which ends after some time or some calls. */
public final class BerthPlanner {
    private static final String NS = "urn:tallow-reach:berths";
    private static final String SOAP12 = "http://www.w3.org/2003/05/soap-envelope";
    private static final int LIFE_MINUTES = 5;
    private static final List<String> PORTS = List.of("TLWRC", "QUAYX", "GANET");
    private static final Map<String, String> DEPTHS =
            Map.of("E1", "8.2", "E4", "9.5", "E7", "11.0", "W2", "7.4", "W3", "12.6");

    private final int callsPerSession;
    private final Map<String, Session> sessions = new ConcurrentHashMap<>();
    private final Map<String, String[]> reservations = new ConcurrentHashMap<>();
    private final Map<String, String> taken = new ConcurrentHashMap<>();
    private final AtomicInteger opened = new AtomicInteger();
    private final SecureRandom random = new SecureRandom();

    private record Session(Instant until, AtomicInteger left) {}

    /** @param callsPerSession after so many calls it has ended */
    public BerthPlanner(int callsPerSession) {
        this.callsPerSession = callsPerSession;
    }

    /** How many sessions were begun. */
    public int opened() {
        return opened.get();
    }

    /** All sessions end at once, as when the service starts again. */
    public void forget() {
        sessions.clear();
    }

    public Answer answer(byte[] request) {
        Element envelope = parsed(request);
        if (envelope == null) {
            return TideDesk.fault(SoapText.SOAP11, true, "This is no message.", "");
        }
        String soap = envelope.getNamespaceURI();
        Element body = SoapText.body(request);
        if (body == null) {
            return TideDesk.fault(soap, true, "There is nothing in the message.", "");
        }
        if (body.getLocalName().equals("OpenSession")) {
            return open(soap);
        }
        if (!isKnown(envelope)) {
            return TideDesk.fault(soap, true, "The session has ended.", "<SessionEnded xmlns=\"" + NS + "\"/>");
        }
        return switch (body.getLocalName()) {
            case "ListBerths" -> berths(soap, SoapText.text(body, "portCode"), SoapText.text(body, "draught"));
            case "ReserveBerth" ->
                reserve(
                        soap,
                        SoapText.text(body, "berth"),
                        SoapText.text(body, "vessel"),
                        SoapText.text(body, "arrival"));
            case "CheckReservation" -> check(soap, SoapText.text(body, "number"));
            default -> TideDesk.fault(soap, true, "There is no such operation.", "");
        };
    }

    private static Element parsed(byte[] request) {
        try {
            DocumentBuilderFactory f = DocumentBuilderFactory.newDefaultInstance();
            f.setNamespaceAware(true);
            f.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
            return f.newDocumentBuilder()
                    .parse(new ByteArrayInputStream(request))
                    .getDocumentElement();
        } catch (SAXException | IOException e) {
            return null;
        } catch (ParserConfigurationException e) {
            throw new IllegalStateException(e);
        }
    }

    private Answer open(String soap) {
        byte[] bytes = new byte[12];
        random.nextBytes(bytes);
        String token = "s-" + HexFormat.of().formatHex(bytes);
        Instant until = Instant.now().plus(LIFE_MINUTES, ChronoUnit.MINUTES).truncatedTo(ChronoUnit.SECONDS);
        sessions.put(token, new Session(until, new AtomicInteger(callsPerSession)));
        opened.incrementAndGet();
        return ok(soap, "OpenSession", "<sessionId>" + token + "</sessionId><until>" + until + "</until>");
    }

    private boolean isKnown(Element envelope) {
        for (Element header : SoapText.children(envelope, "Header")) {
            for (Element session : SoapText.children(header, "SessionHeader")) {
                Session s = sessions.get(SoapText.text(session, "token"));
                return s != null && s.until.isAfter(Instant.now()) && s.left.getAndDecrement() > 0;
            }
        }
        return false;
    }

    private Answer berths(String soap, String port, String draught) {
        if (!PORTS.contains(port)) {
            return TideDesk.fault(
                    soap,
                    true,
                    "There is no such port.",
                    "<UnknownPort xmlns=\"" + NS + "\"><portCode>" + SoapText.escape(port)
                            + "</portCode></UnknownPort>");
        }
        double wanted = draught.isEmpty() ? 0 : Double.parseDouble(draught);
        StringBuilder out = new StringBuilder();
        DEPTHS.keySet().stream()
                .sorted()
                .filter(b -> Double.parseDouble(DEPTHS.get(b)) > wanted)
                .forEach(b -> {
                    out.append("<berth><code>")
                            .append(b)
                            .append("</code><depth>")
                            .append(DEPTHS.get(b));
                    out.append("</depth><free>").append(!b.startsWith("W")).append("</free><from>2031-04-02</from>");
                    out.append("<from>2031-04-05</from></berth>");
                });
        return ok(soap, "ListBerths", out.toString());
    }

    private Answer reserve(String soap, String berth, String vessel, String arrival) {
        String before = taken.putIfAbsent(berth + " " + arrival, vessel);
        if (before != null && !before.equals(vessel)) {
            return TideDesk.fault(
                    soap,
                    true,
                    "The berth is taken.",
                    "<BerthTaken xmlns=\"" + NS + "\"><berth>" + SoapText.escape(berth) + "</berth><takenBy>"
                            + SoapText.escape(before) + "</takenBy></BerthTaken>");
        }
        String number = "R-" + (1000 + reservations.size());
        reservations.put(number, new String[] {berth, vessel});
        return ok(soap, "ReserveBerth", "<number>" + number + "</number>");
    }

    /** Says that it failed inside an answer that is none of a failure. */
    private Answer check(String soap, String number) {
        String[] r = reservations.get(number);
        return ok(
                soap,
                "CheckReservation",
                r == null
                        ? "<status>ERROR</status><errorCode>B-404</errorCode><message>There is no reservation "
                                + SoapText.escape(number) + ".</message>"
                        : "<status>OK</status><berth>" + SoapText.escape(r[0]) + "</berth><vessel>"
                                + SoapText.escape(r[1]) + "</vessel>");
    }

    private static Answer ok(String soap, String operation, String content) {
        String type = SOAP12.equals(soap) ? "application/soap+xml; charset=utf-8" : "text/xml; charset=utf-8";
        return new Answer(
                200,
                type,
                Buffer.buffer("<?xml version=\"1.0\" encoding=\"UTF-8\"?><e:Envelope xmlns:e=\"" + soap
                        + "\"><e:Body><" + operation + "Response xmlns=\"" + NS + "\">" + content + "</" + operation
                        + "Response></e:Body></e:Envelope>"));
    }
}
