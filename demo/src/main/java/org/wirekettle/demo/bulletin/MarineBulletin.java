package org.wirekettle.demo.bulletin;

import static org.wirekettle.demo.SoapText.escape;
import static org.wirekettle.demo.SoapText.text;

import org.w3c.dom.Element;
import org.wirekettle.demo.SoapText;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;

/** The stand-in for the weather service: its answer is a document, XML or JSON, inside a string. */
public final class MarineBulletin {
    private static final String NS = "urn:tallow-reach:bulletin";
    private static final String[] WATCHES = {"forenoon", "afternoon", "first"};

    /** The area whose bulletin always ends in the middle, as texts do that pass through too many hands. */
    private static final String CUT_SHORT = "Wick Shoals";

    private MarineBulletin() {}

    private static String number(String area) {
        return String.format("MB-%04d", Math.floorMod(area.hashCode(), 10_000));
    }

    public static Answer answer(byte[] request) {
        Element ask = SoapText.body(request);
        if (ask == null || !ask.getLocalName().equals("GetBulletin")) {
            return SoapText.fault("Client", "Only GetBulletin is served.", "");
        }
        String area = text(ask, "area");
        boolean json = text(ask, "format").equals("json");
        StringBuilder out = new StringBuilder(
                json
                        ? "{\"area\":\"" + area + "\",\"watches\":["
                        : "<?xml version=\"1.0\"?><bulletin xmlns=\"urn:tallow-reach:weather\" no=\"" + number(area)
                                + "\" area=\"" + escape(area) + "\" issued=\"02.04.2031 05:30\">");
        for (int i = 0; i < WATCHES.length; i++) {
            int force = 3 + Math.floorMod(area.hashCode() + i * 5, 6);
            String sea = force > 6 ? "rough" : force > 4 ? "moderate" : "slight";
            out.append(
                    json
                            ? (i == 0 ? "" : ",") + "{\"watch\":\"" + WATCHES[i] + "\",\"force\":" + force
                                    + ",\"sea\":\"" + sea + "\"}"
                            : "<watch name=\"" + WATCHES[i] + "\"><wind force=\"" + force + "\">north-west</wind><sea>"
                                    + sea + "</sea><visible>" + (10 - force) + ",5</visible></watch>");
        }
        if (!json && Math.floorMod(area.hashCode(), 4) == 2) {
            out.append("<buoy name=\"").append(escape(area)).append(" outer\">unlit</buoy>");
        }
        out.append(json ? "]}" : "<warning>Keep clear of the Skarn Bank buoy.</warning></bulletin>");
        if (area.equals(CUT_SHORT)) {
            out.setLength(out.length() / 2);
        }
        return SoapText.ok("<b:GetBulletinResponse xmlns:b=\"" + NS + "\"><b:GetBulletinResult>"
                + escape(out.toString()) + "</b:GetBulletinResult></b:GetBulletinResponse>");
    }
}
