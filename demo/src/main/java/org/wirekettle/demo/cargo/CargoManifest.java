package org.wirekettle.demo.cargo;

import static org.wirekettle.demo.SoapText.children;
import static org.wirekettle.demo.SoapText.escape;
import static org.wirekettle.demo.SoapText.text;

import java.math.BigDecimal;
import java.util.List;
import org.w3c.dom.Element;
import org.wirekettle.demo.SoapText;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;

/** The stand-in for the cargo desk: manifests with cargo of several kinds. */
public final class CargoManifest {
    private static final String NS = "urn:tallow-reach:cargo";
    private static final String KINDS = "urn:tallow-reach:cargo:kinds";

    private CargoManifest() {}

    public static Answer answer(byte[] request) {
        Element ask = SoapText.body(request);
        if (ask == null || !NS.equals(ask.getNamespaceURI())) {
            return SoapText.fault("Client", "The desk does not know this message.", "");
        }
        return switch (ask.getLocalName()) {
            case "FileManifest" -> file(ask);
            case "GetManifest" -> manifest(text(ask, "vessel"));
            default -> SoapText.fault("Client", "The desk has no operation " + ask.getLocalName() + ".", "");
        };
    }

    private static Answer file(Element ask) {
        BigDecimal tonnes = BigDecimal.ZERO;
        int dangerous = 0;
        List<Element> cargo = children(ask, "cargo");
        for (Element line : cargo) {
            String kind = line.getAttributeNS(SoapText.XSI, "type");
            if (kind.isEmpty()) {
                return refused(line, "The kind of cargo is not given (xsi:type).");
            }
            try {
                tonnes = tonnes.add(new BigDecimal(text(line, "tonnes")));
            } catch (NumberFormatException e) {
                return refused(line, "The tonnes cannot be read.");
            }
            dangerous += line.getAttribute("unNumber").isEmpty() ? 0 : 1;
        }
        return SoapText.ok("<c:FileManifestResponse xmlns:c=\"" + NS + "\"><c:number>CM-" + escape(text(ask, "vessel"))
                + "-" + cargo.size() + "</c:number><c:tonnes>" + tonnes.toPlainString() + "</c:tonnes><c:dangerous>"
                + dangerous + "</c:dangerous></c:FileManifestResponse>");
    }

    private static Answer refused(Element line, String reason) {
        String number = line.getAttribute("line").matches("\\d+") ? line.getAttribute("line") : "0";
        return SoapText.fault(
                "Client",
                reason,
                "<c:Refused xmlns:c=\"" + NS + "\"><c:line>" + number + "</c:line><c:reason>" + reason
                        + "</c:reason></c:Refused>");
    }

    private static Answer manifest(String vessel) {
        if (!vessel.matches("V\\d{4}")) {
            return SoapText.fault("Client", "A vessel's number is V and four digits, such as V1042.", "");
        }
        int seed = Integer.parseInt(vessel.substring(1));
        StringBuilder out = new StringBuilder("<c:GetManifestResponse xmlns:c=\"" + NS + "\" xmlns:k=\"" + KINDS
                        + "\" xmlns:xsi=\"" + SoapText.XSI + "\"><c:vessel>" + vessel + "</c:vessel>")
                .append(
                        seed % 3 == 0
                                ? "<c:sailed xsi:nil=\"true\"/>"
                                : "<c:sailed>2031-04-0" + (1 + seed % 9) + "</c:sailed>");
        for (int line = 1; line <= 2 + seed % 3; line++) {
            out.append(
                    switch ((seed + line) % 3) {
                        case 0 ->
                            cargo("Bulk", line, "", "barley", 1200 + seed % 700) + "<k:hold>" + line
                                    + "</k:hold><k:hold>" + (line + 1) + "</k:hold><k:grade>feed</k:grade></c:cargo>";
                        case 1 ->
                            cargo("Container", line, seed % 2 == 0 ? " unNumber=\"UN1263\"" : "", "household paint", 18)
                                    + "<k:number>TLWU" + (1_000_000 + seed * 7 + line)
                                    + "</k:number><k:inside><k:label>pallet A</k:label><k:package><k:label>drum"
                                    + " 1</k:label></k:package><k:package><k:label>drum"
                                    + " 2</k:label></k:package></k:inside></c:cargo>";
                        default ->
                            cargo("Reefer", line, "", "soft fruit", 21) + "<k:number>TLWU"
                                    + (2_000_000 + seed * 3 + line) + "</k:number><k:celsius>-" + (1 + seed % 20)
                                    + ".5</k:celsius></c:cargo>";
                    });
        }
        return SoapText.ok(
                out.append("<k:stowageRemark>Reefers on deck only.</k:stowageRemark></c:GetManifestResponse>")
                        .toString());
    }

    private static String cargo(String kind, int line, String attributes, String description, int tonnes) {
        return "<c:cargo xsi:type=\"k:" + kind + "\" line=\"" + line + "\"" + attributes + "><k:description>"
                + description + "</k:description><k:tonnes>" + tonnes + ".500</k:tonnes>";
    }
}
