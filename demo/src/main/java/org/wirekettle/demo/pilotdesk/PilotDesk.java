package org.wirekettle.demo.pilotdesk;

import static org.wirekettle.demo.SoapText.escape;
import static org.wirekettle.demo.SoapText.text;

import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import org.w3c.dom.Element;
import org.wirekettle.demo.SoapText;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;

/**
 * The stand-in for the pilots' desk: it takes one order a call, within a session, and knows afterwards which calls have
 * one.
 */
public final class PilotDesk {
    private static final String NS = "urn:tallow-reach:pilotdesk";
    private static final List<String> STATIONS = List.of("QUAYW", "OUTER", "NORTH");
    private static final String[] PILOTS = {"Ilse Tarn", "Joren Vale", "Nele Brack", "Odo Quill"};
    /** Nobody boards between these hours. */
    private static final int REST_FROM = 2;

    private static final int REST_TO = 4;
    private static final BigDecimal DEEP = new BigDecimal("9.0");

    private final AtomicLong sessions = new AtomicLong();
    private final Map<String, String> orders = new ConcurrentHashMap<>();

    public Answer answer(byte[] request) {
        Element ask = SoapText.body(request);
        if (ask == null) {
            return SoapText.fault("Client", "The request is no SOAP message.", "");
        }
        return switch (ask.getLocalName()) {
            case "OpenSession" ->
                SoapText.ok(in(
                        "OpenSessionResponse",
                        element("session", "PS-" + number())
                                + element("validUntil", time(LocalDateTime.now().plusHours(8)))));
            case "FindOrder" -> found(text(ask, "callRef"));
            case "OrderPilot" -> order(ask);
            default -> SoapText.fault("Client", "The desk has no such operation.", "");
        };
    }

    private String number() {
        return String.valueOf(4_000 + sessions.incrementAndGet());
    }

    private Answer found(String callRef) {
        String known = orders.get(callRef);
        return SoapText.ok(in("FindOrderResponse", known == null ? "" : element("orderNo", known)));
    }

    private Answer order(Element ask) {
        if (!text(ask, "session").matches("PS-\\d+")) {
            return SoapText.fault("Client", "Open a session first.", in("NoSession", ""));
        }
        String station = text(ask, "station");
        if (!STATIONS.contains(station)) {
            return SoapText.fault(
                    "Client",
                    "No pilot boards at “" + escape(station) + "”.",
                    in("UnknownStation", element("station", station)));
        }
        LocalDateTime boarding;
        BigDecimal draught;
        try {
            String at = text(ask, "boarding");
            boarding = at.matches(".*(Z|[+-]\\d\\d:\\d\\d)$")
                    ? OffsetDateTime.parse(at).toLocalDateTime()
                    : LocalDateTime.parse(at);
            draught = new BigDecimal(text(ask, "draught"));
        } catch (DateTimeException | NumberFormatException e) {
            return SoapText.fault("Client", "The boarding time or the draught cannot be read.", "");
        }
        if (boarding.getHour() >= REST_FROM && boarding.getHour() < REST_TO) {
            String next = time(boarding.toLocalDate().atTime(REST_TO, 0));
            return SoapText.fault(
                    "Server",
                    "No pilot is on duty before " + REST_TO + " o'clock.",
                    in("NoPilotOnDuty", element("nextDuty", next)));
        }
        String callRef = text(ask, "callRef");
        int seed = Math.floorMod(callRef.hashCode(), 1_000);
        String orderNo = orders.computeIfAbsent(callRef, r -> "PO-" + (88_000 + seed));
        int tugs = draught.compareTo(DEEP) > 0 ? 2 : draught.signum() > 0 && seed % 7 == 0 ? 1 : 0;
        return SoapText.ok(in(
                "OrderPilotResponse",
                element("orderNo", orderNo)
                        + element("pilot", PILOTS[seed % PILOTS.length])
                        + element("boardsAt", time(boarding.plusMinutes(seed % 20)))
                        + element("tugs", String.valueOf(tugs))));
    }

    private static String time(LocalDateTime t) {
        return t.withNano(0).format(DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss'Z'"));
    }

    private static String element(String name, String value) {
        return "<p:" + name + ">" + escape(value) + "</p:" + name + ">";
    }

    private static String in(String name, String content) {
        return "<p:" + name + " xmlns:p=\"" + NS + "\">" + content + "</p:" + name + ">";
    }
}
