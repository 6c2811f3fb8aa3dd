package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.util.List;
import org.testng.annotations.Test;

/** Files of other formats as sources, over HTTP: recognised, looked at, and run over. */
public class SourcesTest extends ServerTest {
    private static final String BINARY = "application/octet-stream";

    @Override
    protected void prepare() throws Exception {
        wk.put(
                        "/api/data/targets/out",
                        "{\"kind\":\"csv\",\"settings\":{\"file\":\"out.csv\",\"replace\":true,\"format\":"
                                + "{\"delimiter\":\";\",\"quote\":\"\\\"\",\"encoding\":\"UTF-8\",\"header\":true}}}")
                .expect(204);
    }

    /** @return the settings as they were recognised */
    private ObjectNode uploaded(String name, String text, String kind) throws Exception {
        JsonNode file = wk.exchange("POST", "/api/data/files?name=" + name, text, BINARY, true)
                .expect(200);
        assertEquals(file.path("kind").asText(), kind, file.toString());
        return (ObjectNode) file.get("settings");
    }

    private void source(String name, String kind, JsonNode settings) throws Exception {
        wk.put("/api/data/sources/" + name, "{\"kind\":\"" + kind + "\",\"settings\":" + settings + "}")
                .expect(204);
    }

    private JsonNode run(String source, String... columns) throws Exception {
        StringBuilder all = new StringBuilder();
        for (String c : columns) {
            all.append(all.isEmpty() ? "" : ",").append("{\"name\":\"").append(c.split("=", 2)[0]);
            all.append("\",\"xpath\":\"").append(c.split("=", 2)[1]).append("\"}");
        }
        long flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"" + source
                                + "\",\"definition\":{\"format\":2,\"steps\":[{\"id\":\"r\",\"kind\":\"read\","
                                + "\"source\":\"" + source + "\"},{\"id\":\"w\",\"kind\":\"write\",\"target\":\"out\","
                                + "\"columns\":[" + all + "]}]}}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode view = wk.await(TideFlow.run(wk, flow, "all"));
        assertEquals(view.get("state").asText(), "finished", view.toString());
        return view;
    }

    private List<String> written() throws Exception {
        return Files.readAllLines(wk.home().resolve("targets/out.csv"));
    }

    @Test
    public void nestedRecordsOfJsonAreLookedAtAndRunOver() throws Exception {
        ObjectNode s = uploaded(
                "m.json",
                "{\"manifests\":[{\"no\":1,\"line\":[{\"t\":\"1,5\"},{\"t\":\"2,25\"}]},{\"no\":2,\"line\":[]}]}",
                "json");
        assertEquals(s.get("path").asText(), "manifests");
        JsonNode p = wk.post("/api/data/preview", "{\"kind\":\"json\",\"settings\":" + s + "}")
                .expect(200);
        assertEquals(p.get("records").size(), 2);
        JsonNode line = p.get("fields").get(1);
        assertTrue(line.get("many").asBoolean());
        assertEquals(line.get("fields").get(0).get("pattern").asText(), "0,0");
        source("manifests", "json", s);
        JsonNode view = run("manifests", "no=no", "lines=count(line)", "second=line[2]/t");
        assertEquals(view.get("done").asLong(), 2);
        assertEquals(written(), List.of("no;lines;second", "1;2;2,25", "2;0;"));
    }

    @Test
    public void aBadLineIsSetAsideWithItsNumberAndMended() throws Exception {
        ObjectNode s = uploaded("bad.csv", "ref;port\nA;OSTRY\nB;TLWRC;and more\nC;HOLMW\n", "csv");
        source("bad", "csv", s);
        JsonNode view = run("bad", "ref=ref", "port=port");
        assertEquals(view.get("done").asLong(), 2);
        assertEquals(view.get("setAside").asLong(), 1);
        long id = view.get("id").asLong();
        JsonNode waiting =
                wk.get("/api/runs/" + id + "/aside").expect(200).get("records").get(0);
        assertEquals(
                waiting.get("reason").asText(),
                "line 3 has 3 values, not 2; beyond the last column there is “and more”");
        assertEquals(waiting.get("code").asText(), "record cannot be read");
        assertEquals(waiting.get("record").size(), 2, "the reason is no field: " + waiting.get("record"));

        wk.post("/api/runs/" + id + "/again", "{\"numbers\":[2]}").expect(204);
        assertEquals(wk.await(id).get("setAside").asLong(), 1, "nobody has mended it");
        wk.put("/api/runs/" + id + "/aside/2", "{\"port\":\"MARSH\"}").expect(200);
        wk.post("/api/runs/" + id + "/again", "{\"numbers\":[2]}").expect(204);
        view = wk.await(id);
        assertEquals(view.get("done").asLong(), 3, view.toString());
        assertEquals(written(), List.of("ref;port", "A;OSTRY", "C;HOLMW", "B;MARSH"));
    }

    @Test
    public void aFileThatBreaksOffKeepsWhatCameBefore() throws Exception {
        source("broken", "xml", uploaded("b.xml", "<a><b><n>1</n></b><b><n>2</n></b><b><n>3</a>", "xml"));
        JsonNode view = run("broken", "n=n");
        assertEquals(view.get("done").asLong(), 2);
        assertEquals(view.get("setAside").asLong(), 1);
        assertEquals(written(), List.of("n", "1", "2"));
    }

    @Test
    public void allFilesOfApatternAreOneSource() throws Exception {
        wk.exchange("PUT", "/api/files/orders/b.csv", "ref;n\nB1;1\n", BINARY, true)
                .expect(204);
        wk.exchange("PUT", "/api/files/orders/a.csv", "ref;n\nA1;1\nA2;2\n", BINARY, true)
                .expect(204);
        wk.exchange("PUT", "/api/files/orders/a.txt", "not;this\n", BINARY, true)
                .expect(204);
        ObjectNode s = uploaded("like.csv", "ref;n\nX;1\n", "csv").put("files", "orders/*.csv");
        source("orders", "csv", s);
        JsonNode view = run("orders", "ref=ref", "of=source_file");
        assertEquals(view.get("done").asLong(), 3);
        assertEquals(written(), List.of("ref;of", "A1;orders/a.csv", "A2;orders/a.csv", "B1;orders/b.csv"));
        for (String bad : List.of("/etc/*", "../*", "a/../../b", "{")) {
            wk.post("/api/data/preview", "{\"kind\":\"csv\",\"settings\":" + s.put("files", bad) + "}")
                    .expect(422);
        }
    }

    @Test
    public void rowsThatBelongTogetherAreOneRecordWithTypes() throws Exception {
        ObjectNode s = uploaded("rows.csv", "o;at;t\nA;02.04.2031;1,5\nA;03.04.2031;2,5\nB;31.02.2031;1\n", "csv");
        s.putObject("group").put("count", 0).putArray("keys").add("o");
        s.putArray("types").addObject().put("field", "at").put("type", "date").put("pattern", "dd.MM.yyyy");
        source("rows", "csv", s);
        JsonNode view = run("rows", "o=o", "first=row[1]/at", "rows=count(row)");
        assertEquals(view.get("setAside").asLong(), 1, "31 February");
        assertEquals(written(), List.of("o;first;rows", "A;2031-04-02;2"));
    }

    @Test
    public void whatCannotBeReadIsSaidBeforeItIsKept() throws Exception {
        JsonNode pdf = wk.exchange("POST", "/api/data/files?name=x.pdf", "%PDF-1.7", BINARY, true)
                .expect(200);
        assertEquals(pdf.get("problem").asText(), "it is a PDF, which holds no records");
        ObjectNode json = uploaded("j.json", "{\"a\":[{\"b\":1},{\"b\":2}]}", "json");
        ObjectNode asCsv = json.deepCopy();
        asCsv.putObject("format")
                .put("delimiter", ";")
                .put("quote", "\"")
                .put("encoding", "UTF-8")
                .put("header", true);
        String refused = wk.post("/api/data/preview", "{\"kind\":\"csv\",\"settings\":" + asCsv + "}")
                .raw()
                .body();
        assertTrue(refused.contains("The file j.json is JSON, not a delimited file."), refused);
        String[] bad = {
            "{\"kind\":\"json\",\"settings\":" + json.deepCopy().put("path", "a[1]") + "}",
            "{\"kind\":\"json\",\"settings\":" + json.deepCopy().set("group", group(0)) + "}",
            "{\"kind\":\"json\",\"settings\":" + json.deepCopy().set("group", group(1_000_000)) + "}",
        };
        for (String b : bad) {
            int status = wk.post("/api/data/preview", b).status();
            assertTrue(status == 422 || status == 400, status + " for " + b);
        }
    }

    private static ObjectNode group(int count) {
        ObjectNode out = WireKettle.JSON.createObjectNode().put("count", count);
        out.putArray("keys");
        return out;
    }
}
