package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import com.fasterxml.jackson.databind.JsonNode;
import org.testng.annotations.Test;

/** Descriptions, labels and notes of named things. */
public class AboutTest extends ServerTest {
    private static final String SAID = """
        {"description": " Tides of the harbour ", "labels": ["tides", "look-up", "tides"],
        "notes": "The provider's page: http://127.0.0.1/tides", "marked": true}""";

    @Test
    public void whatIsSaidIsKeptAndCanBeTakenBack() throws Exception {
        wk.put("/api/about/operation/TideDesk/GetTideWindow", SAID).expect(204);
        JsonNode about = find("operation", "TideDesk/GetTideWindow");
        assertEquals(about.get("description").asText(), "Tides of the harbour");
        assertEquals(about.get("labels").toString(), "[\"look-up\",\"tides\"]");
        assertEquals(about.get("marked").asBoolean(), true);
        String nothing = "{\"description\":\"\",\"labels\":[],\"notes\":\"\",\"marked\":false}";
        wk.put("/api/about/operation/TideDesk/GetTideWindow", nothing).expect(204);
        assertEquals(find("operation", "TideDesk/GetTideWindow"), null);
    }

    @Test
    public void whatCannotBeKeptIsSaidInWords() throws Exception {
        String about = "/api/about/contract/TideDesk";
        assertEquals(wk.put("/api/about/kettle/x", SAID).expect(422).get("code").asText(), "about.kind");
        String tooLong = SAID.replace("Tides of the harbour", "x".repeat(501));
        assertEquals(wk.put(about, tooLong).expect(422).get("code").asText(), "about.length");
        assertEquals(
                wk.put(about, SAID.replace("look-up", " "))
                        .expect(422)
                        .get("code")
                        .asText(),
                "about.labels");
        assertEquals(
                wk.put(about, SAID.replace("\"look-up\"", "null"))
                        .expect(422)
                        .get("code")
                        .asText(),
                "about.labels");
        assertEquals(wk.put(about, "{\"labels\":[]}").expect(400).get("code").asText(), "request.malformed");
        assertEquals(find("contract", "TideDesk"), null, "nothing of it was kept");
    }

    private JsonNode find(String kind, String name) throws Exception {
        for (JsonNode a : wk.get("/api/about").expect(200)) {
            if (a.get("kind").asText().equals(kind) && a.get("name").asText().equals(name)) {
                return a;
            }
        }
        return null;
    }
}
