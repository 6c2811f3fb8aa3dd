package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.demo.tidedesk.TideDesk;

/**
 * Contracts over their life: versions, missing files, registries, protected descriptions, and the flows that use them.
 */
public class ContractsTest extends ServerTest {
    private long flow;

    @Override
    protected void prepare() throws Exception {
        flow = TideFlow.make(wk, services, TideFlow.portCalls(), 4);
        for (String[] c : new String[][] {{"agency", "/protected"}, {"registry", "/registry"}}) {
            wk.put(
                            "/api/connections/" + c[0],
                            "{\"kind\":\"soap\",\"settings\":{\"user\":\"agency\",\"secret\":\"sole\"},\"environments\":{\"test\":{\"url\":\""
                                    + services.url() + c[1] + "\"}},\"secrets\":{\"sole\":\"sole\"}}")
                    .expect(204);
        }
    }

    private JsonNode imported(String name, String path) throws Exception {
        return wk.post("/api/contracts", "{\"url\":\"" + services.url() + path + "\",\"name\":\"" + name + "\"}")
                .expect(200);
    }

    private static final String ANSWERS = """
        {"name":"Answers tides","definition":{"format":2,"steps":[
          {"id":"in","kind":"receive","inputs":[],"samples":[],
           "request":{"contract":"TideDesk","operation":"GetTideWindow"}},
          {"id":"out","kind":"reply","columns":[],"fill":[
           {"path":"GetTideWindowResponse/window/closesAt","xpath":"arrival"}]}]}}""";

    private static JsonNode of(JsonNode affected, long flow) {
        for (JsonNode a : affected) {
            if (a.at("/use/flow").asLong() == flow) {
                return a;
            }
        }
        throw new AssertionError(flow + " is not among " + affected);
    }

    private static List<String> texts(JsonNode list, String field) {
        List<String> out = new ArrayList<>();
        list.forEach(n -> out.add(n.path(field).asText()));
        return out;
    }

    @Test
    public void theSameFilesAreNoNewVersion() throws Exception {
        assertEquals(imported("Same", "/tidedesk?wsdl").toString(), "{\"name\":\"Same\",\"version\":1,\"isNew\":true}");
        assertEquals(
                imported("Same", "/tidedesk?wsdl").toString(), "{\"name\":\"Same\",\"version\":1,\"isNew\":false}");
        JsonNode compared = wk.post("/api/contracts/Same/compare", "{}").expect(200);
        assertTrue(compared.get("isSame").asBoolean());
        assertEquals(wk.get("/api/contracts/Same").expect(200).get("compared").asText(), "unchanged");
    }

    @Test
    public void aNewVersionLeavesFlowsAloneUntilTheyAreMoved() throws Exception {
        JsonNode before = wk.get("/api/flows/" + flow).expect(200).at("/definition/steps/1");
        assertEquals(before.get("version").asInt(), 1);
        long answering = wk.post("/api/flows", ANSWERS).expect(200).get("id").asLong();
        JsonNode request = wk.get("/api/flows/" + answering).expect(200).at("/definition/steps/0/request");
        assertEquals(request.get("version").asInt(), 1, "it is of the version there was");
        assertEquals(imported("TideDesk", "/tidedesk/next?wsdl").get("version").asInt(), 2);
        JsonNode changes = wk.get("/api/contracts/TideDesk/changes?from=1&to=2").expect(200);
        List<String> breaking = new ArrayList<>();
        changes.get("changes").forEach(c -> {
            if (c.get("isBreaking").asBoolean()) {
                breaking.add(c.get("what").asText() + " " + c.get("path").asText());
            }
        });
        assertEquals(
                breaking,
                List.of(
                        "limits GetTideWindow/draught",
                        "field GetTideWindow/arrival",
                        "field GetTideWindow/arrivalUtc",
                        "occurs GetTideWindowResponse/window/closesAt"));
        assertEquals(changes.get("affected").size(), 2);
        JsonNode affected = of(changes.get("affected"), flow);
        JsonNode answers = of(changes.get("affected"), answering);
        assertEquals(texts(answers.get("touched"), "where").stream().distinct().toList(), List.of("receive", "reply"));
        assertTrue(
                texts(answers.get("touched"), "row").contains("GetTideWindowResponse/window/closesAt"),
                answers.toString());
        assertEquals(affected.at("/use/name").asText(), "Tide windows");
        List<String> rows = texts(affected.get("touched"), "row");
        assertTrue(
                rows.containsAll(List.of("GetTideWindow/draught", "GetTideWindow/arrival", "closes_at")),
                rows.toString());
        assertEquals(affected.at("/renames/0/to").asText(), "GetTideWindow/arrivalUtc");

        // An edit of the flow does not move it, and a run still uses the old version.
        JsonNode view = wk.get("/api/flows/" + flow).expect(200);
        ObjectNode definition = (ObjectNode) view.get("definition");
        ((ObjectNode) definition.at("/steps/1")).remove("version");
        ObjectNode change = WireKettle.JSON
                .createObjectNode()
                .put("name", "Tide windows")
                .put("version", view.get("version").asInt());
        change.set("definition", definition);
        assertEquals(
                wk.put("/api/flows/" + flow, change.toString())
                        .expect(200)
                        .at("/definition/steps/1/version")
                        .asInt(),
                1);
        assertEquals(
                wk.post("/api/flows/check?environment=test", definition.toString())
                        .expect(200)
                        .get("problems")
                        .findValuesAsText("code")
                        .toString(),
                "[unfilled, row]",
                "without a version the current one is meant, whose field has another name");

        ObjectNode take = WireKettle.JSON.createObjectNode().put("version", 2);
        take.putArray("flows").add(flow).add(answering);
        take.set("renames", affected.get("renames"));
        wk.post("/api/contracts/TideDesk/take", take.toString()).expect(204);
        JsonNode moved = wk.get("/api/flows/" + flow).expect(200).at("/definition");
        assertEquals(moved.at("/steps/1/version").asInt(), 2);
        assertTrue(texts(moved.at("/steps/1/fill"), "path").contains("GetTideWindow/arrivalUtc"));
        assertEquals(
                wk.post("/api/flows/check?environment=test", moved.toString())
                        .expect(200)
                        .get("problems")
                        .size(),
                0);
        assertEquals(
                wk.get("/api/contracts/TideDesk/changes?from=1&to=2")
                        .expect(200)
                        .get("affected")
                        .size(),
                0);
        assertEquals(
                wk.get("/api/flows/" + answering)
                        .expect(200)
                        .at("/definition/steps/0/request/version")
                        .asInt(),
                2);
        // The old version is still there, as it was.
        assertTrue(wk.get("/api/contracts/TideDesk/raw?version=1")
                .expect(200)
                .get("text")
                .asText()
                .contains("\"arrival\""));
    }

    @Test
    public void aMissingFileIsAskedForByNameAndAddedLater() throws Exception {
        Path files = WireKettle.root().resolve("core/src/test/resources/corpus/files");
        ObjectNode in = WireKettle.JSON.createObjectNode().put("name", "Pieces");
        for (String f : new String[] {"main.wsdl", "a.xsd", "ships.xsd"}) {
            in.withArray("files")
                    .addObject()
                    .put("name", f)
                    .put("base64", Base64.getEncoder().encodeToString(Files.readAllBytes(files.resolve(f))));
        }
        wk.post("/api/contracts", in.toString()).expect(200);
        List<String> notes = texts(wk.get("/api/contracts/Pieces").expect(200).get("notes"), "text");
        assertTrue(notes.stream().anyMatch(n -> n.contains("The file b.xsd is missing")), notes.toString());
        ObjectNode wrong = WireKettle.JSON.createObjectNode();
        wrong.withArray("files").addObject().put("name", "other.xsd").put("base64", "PGEvPg==");
        assertTrue(wk.post("/api/contracts/Pieces/files", wrong.toString())
                .expect(422)
                .get("detail")
                .asText()
                .contains("b.xsd"));
        ObjectNode right = WireKettle.JSON.createObjectNode();
        right.withArray("files")
                .addObject()
                .put("name", "b.xsd")
                .put("base64", Base64.getEncoder().encodeToString(Files.readAllBytes(files.resolve("b.xsd"))));
        assertEquals(
                wk.post("/api/contracts/Pieces/files", right.toString())
                        .expect(200)
                        .get("version")
                        .asInt(),
                2);
        assertEquals(wk.get("/api/contracts/Pieces").expect(200).get("notes").size(), 0);
        assertFalse(wk.post("/api/contracts/Pieces/compare", "{}")
                .expect(422)
                .get("detail")
                .asText()
                .isEmpty());
    }

    @Test
    public void aStrictReadingRefusesWhatWouldBeRepaired() throws Exception {
        JsonNode p = wk.post(
                        "/api/contracts",
                        "{\"url\":\"" + services.url() + "/dues?wsdl\",\"name\":\"Strict\",\"refusesRepairs\":true}")
                .expect(422);
        assertTrue(p.get("detail").asText().startsWith("It would have to be repaired, for"), p.toString());
        wk.get("/api/contracts/Strict").expect(404);
        assertEquals(
                wk.post(
                                "/api/contracts",
                                "{\"url\":\"" + services.url()
                                        + "/tidedesk?wsdl\",\"name\":\"Strict\",\"refusesRepairs\":true}")
                        .expect(200)
                        .get("version")
                        .asInt(),
                1);
    }

    @Test
    public void aProtectedDescriptionIsFetchedWithAConnectionsLogIn() throws Exception {
        assertTrue(wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/protected?wsdl\"}")
                .expect(422)
                .get("detail")
                .asText()
                .contains("401"));
        wk.post(
                        "/api/contracts",
                        "{\"url\":\"" + services.url()
                                + "/protected?wsdl\",\"name\":\"Protected\",\"connection\":\"agency\"}")
                .expect(200);
        assertTrue(
                wk.post("/api/contracts/Protected/compare", "{}")
                        .expect(200)
                        .get("isSame")
                        .asBoolean(),
                "later comparisons use the same log-in");
    }

    @Test
    public void aRegistryIsAskedInEitherVersionOfUddi() throws Exception {
        JsonNode tides = wk.post(
                        "/api/registry/find",
                        "{\"connection\":\"registry\",\"environment\":\"test\",\"text\":\"tide\"}")
                .expect(200);
        assertEquals(tides.get("version").asText(), "3");
        assertEquals(
                tides.at("/found/0/business").asText() + ", "
                        + tides.at("/found/0/service").asText(),
                "Tallow Reach Harbour Office, Tide desk");
        assertEquals(tides.at("/found/0/wsdl").asText(), services.url() + "/tidedesk?wsdl");
        JsonNode byBusiness = wk.post(
                        "/api/registry/find", "{\"url\":\"" + services.url() + "/registry\",\"text\":\"gannet\"}")
                .expect(200);
        assertEquals(texts(byBusiness.get("found"), "service"), List.of("Cargo manifests"));
        JsonNode older = wk.post(
                        "/api/registry/find", "{\"url\":\"" + services.url() + "/registry?only=v2\",\"text\":\"\"}")
                .expect(200);
        assertEquals(older.get("version").asText() + " " + older.get("found").size(), "2 4");
        assertTrue(wk.post("/api/registry/find", "{\"url\":\"" + services.url() + "/tidedesk\",\"text\":\"\"}")
                .expect(422)
                .get("detail")
                .asText()
                .startsWith("The registry refuses the inquiry"));
        wk.post("/api/registry/find", "{\"text\":\"\"}").expect(422);
    }

    @Test
    public void fieldsAreFoundByTheirDocumentation() throws Exception {
        imported("Searched", "/cargo/cargo.wsdl");
        JsonNode hits = wk.get("/api/contracts/Searched/search?text=dangerous").expect(200);
        assertTrue(texts(hits, "path").contains("FileManifest/cargo/@unNumber"), hits.toString());
        JsonNode kinds = wk.post(
                        "/api/contracts/Searched/kinds",
                        "{\"shape\":{\"port\":\"Cargo\",\"operation\":\"FileManifest\",\"part\":\"request\"},"
                                + "\"path\":\"FileManifest/cargo\",\"text\":\"ree\"}")
                .expect(200);
        assertEquals(texts(kinds.get("kinds"), "name"), List.of("Reefer"));
        JsonNode example = wk.post(
                        "/api/contracts/Searched/example",
                        "{\"port\":\"Cargo\",\"operation\":\"FileManifest\",\"part\":\"answer\",\"full\":true}")
                .expect(200);
        assertEquals(example.get("problems").size(), 0, example.toString());
    }

    @Test
    public void pastedTextInOtherEncodingsIsRead() throws Exception {
        String wsdl = TideDesk.wsdl(services.url()).replace("The harbour master's", "Der Hafenmeister für");
        ObjectNode in = WireKettle.JSON.createObjectNode().put("name", "Latin");
        in.withArray("files")
                .addObject()
                .put("name", "latin.wsdl")
                .put(
                        "base64",
                        Base64.getEncoder()
                                .encodeToString(
                                        wsdl.replace("UTF-8", "ISO-8859-1").getBytes(StandardCharsets.ISO_8859_1)));
        wk.post("/api/contracts", in.toString()).expect(200);
        assertTrue(wk.get("/api/contracts/Latin")
                .expect(200)
                .get("documentation")
                .asText()
                .contains("für"));
    }
}
