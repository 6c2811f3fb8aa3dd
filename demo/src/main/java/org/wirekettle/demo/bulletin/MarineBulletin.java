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

    private MarineBulletin() {}

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
                        : "<?xml version=\"1.0\"?><bulletin xmlns=\"urn:tallow-reach:weather\" area=\"" + escape(area)
                                + "\">");
        for (int i = 0; i < WATCHES.length; i++) {
            int force = 3 + Math.floorMod(area.hashCode() + i * 5, 6);
            String sea = force > 6 ? "rough" : force > 4 ? "moderate" : "slight";
            out.append(
                    json
                            ? (i == 0 ? "" : ",") + "{\"watch\":\"" + WATCHES[i] + "\",\"force\":" + force
                                    + ",\"sea\":\"" + sea + "\"}"
                            : "<watch name=\"" + WATCHES[i] + "\"><wind force=\"" + force + "\">north-west</wind><sea>"
                                    + sea + "</sea></watch>");
        }
        out.append(json ? "]}" : "<warning>Keep clear of the Skarn Bank buoy.</warning></bulletin>");
        return SoapText.ok("<b:GetBulletinResponse xmlns:b=\"" + NS + "\"><b:GetBulletinResult>"
                + escape(out.toString()) + "</b:GetBulletinResult></b:GetBulletinResponse>");
    }
}
