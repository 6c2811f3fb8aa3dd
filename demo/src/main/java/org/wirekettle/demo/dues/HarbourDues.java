package org.wirekettle.demo.dues;

import static org.wirekettle.demo.SoapText.children;
import static org.wirekettle.demo.SoapText.escape;
import static org.wirekettle.demo.SoapText.text;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.w3c.dom.Element;
import org.wirekettle.demo.SoapText;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;

/** The stand-in for the old dues service: RPC/encoded, its answers full of references. */
public final class HarbourDues {
    private static final String NS = "urn:tallow-reach:dues";
    private static final String ENCODING = "http://schemas.xmlsoap.org/soap/encoding/";
    private static final Map<String, String> RATES = Map.of("A", "0.12", "B", "0.09", "C", "0.055");

    private HarbourDues() {}

    public static Answer answer(byte[] request) {
        Element ask = SoapText.body(request);
        if (ask == null || !NS.equals(ask.getNamespaceURI())) {
            return SoapText.fault("Client", "unknown method", "");
        }
        return switch (ask.getLocalName()) {
            case "computeDues" -> dues(ask);
            case "rate" ->
                RATES.containsKey(text(ask, "code"))
                        ? reply("rate", "<rate xsi:type=\"xsd:float\">" + RATES.get(text(ask, "code")) + "</rate>", "")
                        : SoapText.fault("Server", "no tariff " + text(ask, "code"), "");
            default -> SoapText.fault("Client", "unknown method " + ask.getLocalName(), "");
        };
    }

    private static Answer reply(String operation, String parts, String references) {
        return SoapText.ok("<d:" + operation + "Response xmlns:d=\"" + NS + "\" xmlns:xsi=\"" + SoapText.XSI
                + "\" xmlns:xsd=\"http://www.w3.org/2001/XMLSchema\" xmlns:soapenc=\"" + ENCODING
                + "\" e:encodingStyle=\"" + ENCODING + "\">" + parts + "</d:" + operation + "Response>" + references);
    }

    private static Answer dues(Element ask) {
        List<Element> visits = children(ask, "visits").isEmpty()
                ? List.of()
                : children(children(ask, "visits").get(0), null);
        StringBuilder items = new StringBuilder();
        StringBuilder values = new StringBuilder();
        Map<String, String> tariffs = new LinkedHashMap<>();
        for (int i = 0; i < visits.size(); i++) {
            BigDecimal tons;
            BigDecimal days;
            try {
                tons = new BigDecimal(text(visits.get(i), "grossTonnage"));
                days = new BigDecimal(text(visits.get(i), "days"));
            } catch (NumberFormatException e) {
                return SoapText.fault("Client", "visit " + (i + 1) + ": grossTonnage and days must be numbers", "");
            }
            String code = tons.compareTo(BigDecimal.valueOf(10_000)) > 0
                    ? "A"
                    : tons.compareTo(BigDecimal.valueOf(2_000)) > 0 ? "B" : "C";
            tariffs.putIfAbsent(code, "tariff" + code);
            BigDecimal amount = tons.multiply(days)
                    .multiply(new BigDecimal(RATES.get(code)))
                    .setScale(2, RoundingMode.HALF_UP);
            items.append("<item href=\"#charge").append(i).append("\"/>");
            values.append(independent(
                    "charge" + i,
                    "Charge",
                    "<vessel xsi:type=\"xsd:string\">" + escape(text(visits.get(i), "vessel"))
                            + "</vessel><tariff href=\"#tariff" + code + "\"/><amount xsi:type=\"xsd:decimal\">"
                            + amount + "</amount>"));
        }
        tariffs.forEach((code, id) -> values.append(independent(
                id,
                "Tariff",
                "<code xsi:type=\"xsd:string\">" + code + "</code><perTon xsi:type=\"xsd:float\">" + RATES.get(code)
                        + "</perTon>")));
        return reply(
                "computeDues",
                "<charges xsi:type=\"soapenc:Array\" soapenc:arrayType=\"d:Charge[" + visits.size() + "]\">" + items
                        + "</charges>",
                values.toString());
    }

    private static String independent(String id, String type, String content) {
        return "<multiRef id=\"" + id + "\" xmlns:soapenc=\"" + ENCODING + "\" soapenc:root=\"0\" e:encodingStyle=\""
                + ENCODING + "\" xmlns:xsi=\"" + SoapText.XSI
                + "\" xmlns:xsd=\"http://www.w3.org/2001/XMLSchema\" xmlns:d=\"" + NS + "\" xsi:type=\"d:" + type
                + "\">" + content + "</multiRef>";
    }
}
