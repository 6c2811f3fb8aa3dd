package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import org.testng.annotations.Test;

/** The Bench in depth, against services of every awkward kind. */
public class BenchTest extends ServerTest {
    @Override
    protected void prepare() throws Exception {
        for (String[] c : new String[][] {
            {"CargoManifest", "/cargo/cargo.wsdl"},
            {"HarbourDues", "/dues?wsdl"},
            {"MarineBulletin", "/bulletin?wsdl"},
            {"TideDesk", "/tidedesk?wsdl"}
        }) {
            wk.post("/api/contracts", "{\"url\":\"" + services.url() + c[1] + "\",\"name\":\"" + c[0] + "\"}")
                    .expect(200);
        }
        wk.put(
                        "/api/connections/dues",
                        "{\"kind\":\"soap\",\"settings\":{\"addressing\":true},\"environments\":{\"test\":{\"url\":\""
                                + services.url() + "/dues\"}}}")
                .expect(204);
    }

    private JsonNode bench(String contract, String what, String port, String operation, String more) throws Exception {
        return wk.post(
                        "/api/contracts/" + contract + "/bench/" + what,
                        "{\"port\":\"" + port + "\",\"operation\":\"" + operation + "\"" + more + "}")
                .expect(200);
    }

    /** What an expression finds in an answer. */
    private JsonNode xpath(String contract, String answer, String expression) throws Exception {
        return wk.post(
                        "/api/contracts/" + contract + "/bench/xpath",
                        WireKettle.JSON
                                .createObjectNode()
                                .put("answer", answer)
                                .put("xpath", expression)
                                .toString())
                .expect(200)
                .get("values");
    }

    private static final String MANIFEST = """
        ,"rules":[{"path":"FileManifest/vessel","text":"V1042"},{"path":"FileManifest/sailed","whenEmpty":"NIL"},
        {"path":"FileManifest/choice","branch":"berth"},{"path":"FileManifest/choice/berth","text":"E4"},
        {"path":"FileManifest/cargo","kind":"{urn:tallow-reach:cargo:kinds}Bulk"},{"path":"FileManifest/cargo/@line",
        "text":"1"},{"path":"FileManifest/cargo/description","text":"barley"},{"path":"FileManifest/cargo/tonnes",
        "text":"12"},
        {"path":"FileManifest/cargo/hold","text":"1"},{"path":"FileManifest/cargo/hold[2]","text":"2"},
        {"path":"FileManifest/cargo[2]","kind":"{urn:tallow-reach:cargo:kinds}Reefer"},
        {"path":"FileManifest/cargo[2]/@line","text":"2"},{"path":"FileManifest/cargo[2]/@unNumber","text":"UN1263"},
        {"path":"FileManifest/cargo[2]/description","text":"paint"},
        {"path":"FileManifest/cargo[2]/tonnes","text":"3.5"},{"path":"FileManifest/cargo[2]/number",
        "text":"TLWU1234567"},{"path":"FileManifest/cargo[2]/celsius","text":"-4"},
        {"path":"FileManifest/remark","kind":"{urn:tallow-reach:cargo:kinds}customsRemark","text":"sealed"},
        {"path":"FileManifest/any","text":"<x:note xmlns:x='urn:last-port'>late</x:note>"}]\
        """;

    @Test
    public void kindsRepeatsNilChoicesAttributesAndFreeXmlGoOutAndComeBack() throws Exception {
        JsonNode message = bench("CargoManifest", "message", "Cargo", "FileManifest", MANIFEST);
        assertEquals(message.get("problems").size() + message.get("validation").size(), 0, message.toString());
        JsonNode answer = bench("CargoManifest", "send", "Cargo", "FileManifest", MANIFEST);
        assertTrue(
                answer.get("answer")
                        .asText()
                        .contains(
                                "<c:number>CM-V1042-2</c:number><c:tonnes>15.5</c:tonnes><c:dangerous>1</c:dangerous>"),
                answer.toString());
        assertEquals(answer.get("answerNotes").size(), 0);

        // The XML is read back into rows that write the same message again.
        ObjectNode xml = WireKettle.JSON
                .createObjectNode()
                .put("port", "Cargo")
                .put("operation", "FileManifest")
                .put("xml", message.get("envelope").asText());
        JsonNode read = wk.post("/api/contracts/CargoManifest/bench/rules", xml.toString())
                .expect(200);
        assertEquals(read.get("lost").size(), 0, read.toString());
        JsonNode again = bench("CargoManifest", "message", "Cargo", "FileManifest", ",\"rules\":" + read.get("rules"));
        assertEquals(
                again.get("envelope")
                        .asText()
                        .replaceAll("\\s+xmlns:\\w+='urn:last-port'|\\s+xmlns:\\w+=\"[^\"]*\"", ""),
                message.get("envelope")
                        .asText()
                        .replaceAll("\\s+xmlns:\\w+='urn:last-port'|\\s+xmlns:\\w+=\"[^\"]*\"", ""));

        // Laid out as often as it is given.
        JsonNode rows = wk.post(
                        "/api/contracts/CargoManifest/shape",
                        "{\"port\":\"Cargo\",\"operation\":\"FileManifest\",\"part\":\"request\","
                                + "\"occurrences\":{\"FileManifest/cargo\":2},"
                                + "\"kinds\":{\"FileManifest/cargo[2]\":\"{urn:tallow-reach:cargo:kinds}Reefer\"}}")
                .expect(200)
                .get("rows");
        assertTrue(
                rows.findValuesAsText("path").contains("FileManifest/cargo[2]/celsius"),
                rows.findValuesAsText("path").toString());
    }

    @Test
    public void brokenOrForeignXmlIsSaidAndNotLostSilently() throws Exception {
        assertEquals(
                bench("CargoManifest", "rules", "Cargo", "FileManifest", ",\"xml\":\"<a>\\n<b></a>\"")
                        .get("line")
                        .asInt(),
                2);
        JsonNode lost = bench(
                "CargoManifest",
                "rules",
                "Cargo",
                "GetManifest",
                ",\"xml\":\"<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><GetManifest"
                        + " xmlns='urn:tallow-reach:cargo'><vessel>V1</vessel><colour>red</colour></GetManifest>"
                        + "</e:Body>"
                        + "</e:Envelope>\"");
        assertEquals(lost.at("/lost/0/text").asText(), "has the element colour at line 1, which no row takes here");
        assertEquals(lost.at("/rules/1/text").asText(), "V1");
    }

    @Test
    public void encodedArraysAreUnderstoodAndReferencesResolved() throws Exception {
        String rules =
                ",\"connection\":\"dues\",\"environment\":\"test\",\"rules\":[{\"path\":\"computeDues/currency\","
                        + "\"text\":\"crowns\"}";
        for (int i = 1; i <= 2; i++) {
            String at = "computeDues/visits/item" + (i == 1 ? "" : "[2]");
            rules += ",{\"path\":\"" + at + "/vessel\",\"text\":\"Ship " + i + "\"},{\"path\":\"" + at
                    + "/grossTonnage\",\"text\":\"" + 12_000 * i + "\"},{\"path\":\"" + at + "/days\",\"text\":\"2\"}";
        }
        JsonNode answer = bench("HarbourDues", "send", "DuesPort", "computeDues", rules + "]");
        assertTrue(
                answer.get("request").asText().contains("arrayType=\"n1:Visit[2]\""),
                answer.get("request").asText());
        assertTrue(
                answer.get("request")
                        .asText()
                        .contains("<wsa:Action"
                                + " xmlns:wsa=\"http://www.w3.org/2005/08/addressing\">"
                                + "urn:tallow-reach:dues:Dues:computeDuesRequest</wsa:Action>"),
                answer.get("request").asText());
        assertEquals(answer.get("answerNotes").size(), 0);
        assertEquals(answer.get("tree").size(), 1, "independent values are in their places");
        assertEquals(
                xpath(
                                "HarbourDues",
                                answer.get("answer").asText(),
                                "charges/item/concat(vessel, ' ', tariff/code, ' ', amount)")
                        .toString(),
                "[\"Ship 1 A 2880.00\",\"Ship 2 A 5760.00\"]");
    }

    @Test
    public void anAnswerThatDoesNotMatchItsSchemaIsShownWithNotes() throws Exception {
        wk.post(
                        "/api/contracts",
                        WireKettle.JSON
                                .createObjectNode()
                                .put("name", "Differs")
                                .put(
                                        "text",
                                        org.wirekettle.demo.tidedesk.TideDesk.wsdl(services.url())
                                                .replace(
                                                        "<xs:element name=\"clearance\" type=\"xs:decimal\">",
                                                        "<xs:element name=\"clearance\" type=\"xs:date\">"))
                                .toString())
                .expect(200);
        JsonNode a = bench(
                "Differs",
                "send",
                "TideDesk11",
                "GetTideWindow",
                ",\"rules\":[{\"path\":\"GetTideWindow/portCode\",\"text\":\"TLWRC\"},"
                        + "{\"path\":\"GetTideWindow/arrival\",\"text\":\"2031-04-02T21:40:00\"},"
                        + "{\"path\":\"GetTideWindow/draught\",\"text\":\"7\"}]");
        assertEquals(a.get("tree").size(), 1);
        assertTrue(
                a.at("/answerNotes/0/text").asText().contains("is not a valid value for 'date'"),
                a.get("answerNotes").toString());
    }

    @Test
    public void aDocumentInAStringIsReachedByXPathAndPrefixesAreReady() throws Exception {
        JsonNode a = bench(
                "MarineBulletin",
                "send",
                "BulletinSoap",
                "GetBulletin",
                ",\"rules\":[{\"path\":\"GetBulletin/area\",\"text\":\"Skarn Bank\"}]");
        String answer = a.get("answer").asText();
        String area = "parse-xml(GetBulletinResult)/bulletin/@area";
        assertEquals(xpath("MarineBulletin", answer, area).get(0).asText(), "Skarn Bank");
        assertEquals(
                xpath("MarineBulletin", answer, "count(b:GetBulletinResult)")
                        .get(0)
                        .asText(),
                "1");
        String latin = answer.replaceFirst("encoding=.UTF-8.", "encoding='ISO-8859-1'")
                .replace("Skarn Bank", "Sk\u00e4rn Bank");
        assertEquals(xpath("MarineBulletin", latin, area).get(0).asText(), "Sk\u00e4rn Bank");
        assertEquals(a.at("/prefixes/b").asText(), "urn:tallow-reach:bulletin");
        JsonNode json = bench(
                "MarineBulletin",
                "send",
                "BulletinSoap",
                "GetBulletin",
                ",\"rules\":[{\"path\":\"GetBulletin/area\",\"text\":\"Skarn"
                        + " Bank\"},{\"path\":\"GetBulletin/format\",\"text\":\"json\"}]");
        assertEquals(
                xpath("MarineBulletin", json.get("answer").asText(), "parse-json(GetBulletinResult)?watches?2?watch")
                        .get(0)
                        .asText(),
                "afternoon");
    }

    @Test
    public void whatWasSentIsKeptNewestFirst() throws Exception {
        for (String vessel : new String[] {"V0001", "W9", "V0003"}) {
            bench(
                    "CargoManifest",
                    "send",
                    "Cargo",
                    "GetManifest",
                    ",\"rules\":[{\"path\":\"GetManifest/vessel\",\"text\":\"" + vessel + "\"}]");
        }
        JsonNode history = wk.get("/api/contracts/CargoManifest/bench/history?port=Cargo&operation=GetManifest")
                .expect(200);
        assertEquals(history.findValuesAsText("status").toString(), "[200, 500, 200]");
        assertEquals(history.get(1).get("fault").asText(), "Client");
        JsonNode past = wk.get("/api/contracts/CargoManifest/bench/history/"
                        + history.get(2).get("id").asLong())
                .expect(200);
        assertTrue(
                past.get("request").asText().contains("V0001")
                        && past.at("/tree/0/children").size() > 2,
                past.toString());
        assertTrue(past.at("/tree/0/children").findValuesAsText("kind").contains("Bulk")
                || past.at("/tree/0/children").findValuesAsText("kind").contains("Reefer"));
        wk.get("/api/contracts/CargoManifest/bench/history/999999").expect(404);
    }

    @Test
    public void tokensReachTheServiceAndNobodyElse() throws Exception {
        String ask = ",\"environment\":\"test\",\"rules\":[{\"path\":\"GetTideWindow/portCode\",\"text\":\"TLWRC\"},"
                + "{\"path\":\"GetTideWindow/arrival\",\"text\":\"2031-04-02T21:40:00\"},"
                + "{\"path\":\"GetTideWindow/draught\",\"text\":\"7\"}]";
        for (String token : new String[] {"text", "digest"}) {
            wk.put(
                            "/api/connections/guarded",
                            "{\"kind\":\"soap\",\"settings\":{\"user\":\"agency\",\"secret\":\"guarded\",\"token\":\""
                                    + token
                                    + "\",\"timestamp\":true},\"environments\":{\"test\":{\"url\":\"" + services.url()
                                    + "/tidedesk/secured\"}},\"secrets\":{\"guarded\":\"sole\"}}")
                    .expect(204);
            for (String port : new String[] {"TideDesk11", "TideDesk12"}) {
                JsonNode a = bench("TideDesk", "send", port, "GetTideWindow", ",\"connection\":\"guarded\"" + ask);
                assertEquals(a.get("status").asInt(), 200, a.toString());
                assertTrue(
                        a.get("request").asText().contains("•••")
                                && !a.get("request").asText().contains(">sole<"),
                        a.get("request").asText());
                ObjectNode xml = WireKettle.JSON
                        .createObjectNode()
                        .put("port", port)
                        .put("operation", "GetTideWindow")
                        .put("xml", a.get("request").asText());
                assertEquals(
                        wk.post("/api/contracts/TideDesk/bench/rules", xml.toString())
                                .expect(200)
                                .get("lost")
                                .size(),
                        0);
            }
        }
        wk.put(
                        "/api/connections/guarded",
                        "{\"kind\":\"soap\",\"settings\":{\"user\":\"agency\",\"secret\":\"guarded\",\"token\":\"digest\"},"
                                + "\"environments\":{\"test\":{\"url\":\""
                                + services.url() + "/tidedesk/secured\"}},\"secrets\":{\"guarded\":\"not-it\"}}")
                .expect(204);
        assertEquals(
                bench("TideDesk", "send", "TideDesk11", "GetTideWindow", ",\"connection\":\"guarded\"" + ask)
                        .at("/fault/reason")
                        .asText(),
                "The digest is wrong.");
    }
}
