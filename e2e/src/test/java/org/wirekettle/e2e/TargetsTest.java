package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.testng.annotations.Test;

/** Targets of every kind, written by runs over real records and a real database. */
public class TargetsTest extends ServerTest {
    private static final String MANIFESTS = "{\"manifests\":[{\"no\":\"A\",\"t\":1.5,\"line\":[{\"n\":1}]},"
            + "{\"no\":\"B\",\"t\":2,\"line\":[{\"n\":1},{\"n\":2}]}]}";

    @Override
    protected void prepare() throws Exception {
        TideFlow.harbour(wk);
        JsonNode file = wk.exchange("POST", "/api/data/files?name=m.json", MANIFESTS, "application/octet-stream", true)
                .expect(200);
        wk.put("/api/data/sources/manifests", "{\"kind\":\"json\",\"settings\":" + file.get("settings") + "}")
                .expect(204);
    }

    private void target(String name, String kind, String settings) throws Exception {
        wk.put("/api/data/targets/" + name, "{\"kind\":\"" + kind + "\",\"settings\":{" + settings + "}}")
                .expect(204);
    }

    /** @param more of the step that writes */
    private JsonNode run(String target, String more) throws Exception {
        long flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"to " + target + System.nanoTime() + "\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"manifests\"},{\"id\":\"w\",\"kind\":"
                                + "\"write\",\"target\":\"" + target + "\"" + more + "}]}}")
                .expect(200)
                .get("id")
                .asLong();
        JsonNode view = wk.await(TideFlow.run(wk, flow, "all"));
        assertEquals(view.get("state").asText(), "finished", view.toString());
        return view;
    }

    private static String columns(String... of) {
        return ",\"columns\":["
                + String.join(
                        ",",
                        Stream.of(of)
                                .map(c -> c.split("="))
                                .map(c -> "{\"name\":\"" + c[0] + "\",\"xpath\":\"" + c[1] + "\",\"type\":\"" + c[2]
                                        + "\"}")
                                .toList())
                + "]";
    }

    private Path written(String file) {
        return wk.home().resolve("targets").resolve(file);
    }

    @Test
    public void recordsKeepTheirNestingInJsonAndXml() throws Exception {
        target("nested", "json", "\"file\":\"nested.json\",\"replace\":true");
        run("nested", "");
        JsonNode all = WireKettle.JSON.readTree(Files.readString(written("nested.json")));
        assertEquals(
                all.toString(),
                "[{\"no\":\"A\",\"t\":1.5,\"line\":[{\"n\":1}]},{\"no\":\"B\",\"t\":2,\"line\":[{\"n\":1},{\"n\":2}]}]");
        JsonNode preview =
                wk.get("/api/data/targets/nested/preview?newest=true").expect(200);
        assertEquals(
                preview.get("records").get(0).get("children").get(0).get("text").asText(), "B");

        target("lines", "xml", "\"file\":\"lines.xml\",\"replace\":false,\"root\":\"lines\"");
        run("lines", ",\"from\":\"line\"");
        run("lines", ",\"from\":\"line\"");
        String xml = Files.readString(written("lines.xml"));
        assertEquals(xml.split("<line>", -1).length - 1, 6, xml);
        assertTrue(xml.endsWith("</lines>\n"), xml);
    }

    @Test
    public void aWorkbookIsMadeOfTheRowsAndCanBeTaken() throws Exception {
        target("book", "xlsx", "\"file\":\"book.xlsx\",\"replace\":true,\"sheet\":\"Cargo\"");
        run("book", columns("no=no=string", "tonnes=t=decimal"));
        JsonNode preview = wk.get("/api/data/targets/book/preview").expect(200);
        assertEquals(preview.get("records").size(), 2);
        assertEquals(preview.get("fields").get(1).get("type").asText(), "decimal");
        assertEquals(wk.get("/api/data/targets/book/file").raw().statusCode(), 200);
        String refused = wk.put(
                        "/api/data/targets/book",
                        "{\"kind\":\"xlsx\",\"settings\":{\"file\":\"book.xlsx\",\"replace\":true,\"sheet\":\"a/b\"}}")
                .raw()
                .body();
        assertTrue(refused.contains("A sheet's name has at most 31 characters"), refused);
    }

    @Test
    public void eachRunMayHaveAfileOfItsOwn() throws Exception {
        target("own", "jsonl", "\"file\":\"own_{$run/number}.jsonl\",\"replace\":true");
        long one = run("own", columns("no=no=string")).get("id").asLong();
        long two = run("own", columns("no=no=string")).get("id").asLong();
        assertEquals(Files.readAllLines(written("own_" + one + ".jsonl")), List.of("{\"no\":\"A\"}", "{\"no\":\"B\"}"));
        assertEquals(Files.readAllLines(written("own_" + two + ".jsonl")).size(), 2);
        assertEquals(
                wk.get("/api/data/targets/own/preview")
                        .expect(200)
                        .get("records")
                        .size(),
                2);
        for (String bad : List.of("../x.csv", "x{.csv", "a/b.csv", "x{doc('y')}.csv", "x{$record/no}.csv")) {
            assertEquals(
                    wk.put(
                                    "/api/data/targets/bad",
                                    "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"" + bad + "\",\"replace\":true}}")
                            .status(),
                    422,
                    bad);
        }
    }

    @Test
    public void eachRowMayBeAFile() throws Exception {
        target("each", "folder", "\"file\":\"each\",\"replace\":false");
        assertEquals(
                run("each", columns("name=concat(no, '.txt')=string", "text=concat('of ', no)=string"))
                        .get("done")
                        .asInt(),
                2);
        assertEquals(Files.readString(written("each/A.txt")), "of A");
        JsonNode again = run("each", columns("name=concat(no, '.txt')=string", "text='other'=string"));
        assertEquals(again.get("setAside").asInt(), 2, "they are there already");
        assertEquals(Files.readString(written("each/A.txt")), "of A");
        target("each", "folder", "\"file\":\"each\",\"replace\":true");
        run("each", columns("name=concat(no, '.txt')=string", "text='other'=string"));
        assertEquals(Files.readString(written("each/B.txt")), "other");
        try (Stream<Path> all = Files.list(written("each"))) {
            assertEquals(all.count(), 2);
        }
        JsonNode preview = wk.get("/api/data/targets/each/preview").expect(200);
        assertEquals(preview.get("records").size(), 2);
        wk.put("/api/data/targets/bad", "{\"kind\":\"folder\",\"settings\":{\"file\":\"../x\",\"replace\":true}}")
                .expect(422);
    }

    @Test
    public void whatAFlatFileCannotHoldSetsItsRecordAside() throws Exception {
        target("flat", "csv", "\"file\":\"flat.csv\",\"replace\":true");
        JsonNode view = run("flat", "");
        assertEquals(view.get("setAside").asLong(), 2, "both have lines inside");
        JsonNode waiting =
                wk.get("/api/runs/" + view.get("id").asLong() + "/aside").expect(200);
        assertEquals(
                waiting.get("records").get(0).get("reason").asText(),
                "line has fields inside; a column takes one value");
    }

    @Test
    public void rowsOfATableAreUpdatedByTheirKey() throws Exception {
        wk.execute("CREATE SCHEMA IF NOT EXISTS harbour; DROP TABLE IF EXISTS harbour.mode;"
                + "CREATE TABLE harbour.mode (no text PRIMARY KEY, tonnes numeric, noted text DEFAULT 'by hand')");
        String table = "\"connection\":\"harbour\",\"table\":\"harbour.mode\"";
        String both = columns("no=no=string", "tonnes=t=decimal");
        target("mode", "sql", table + ",\"mode\":\"upsert\",\"keys\":[\"no\"]");
        assertEquals(run("mode", both).get("done").asLong(), 2);
        wk.execute("UPDATE harbour.mode SET noted = 'kept', tonnes = 0");
        assertEquals(run("mode", both).get("done").asLong(), 2, "there already");
        assertEquals(
                wk.text("SELECT string_agg(no || tonnes || noted, ' ' ORDER BY no) FROM harbour.mode"),
                "A1.5kept B2kept");

        target("mode", "sql", table + ",\"mode\":\"update\",\"keys\":[\"no\"]");
        wk.execute("DELETE FROM harbour.mode WHERE no = 'A'");
        JsonNode view = run("mode", both);
        assertEquals(view.get("setAside").asLong(), 1);
        assertEquals(view.get("done").asLong(), 1, "the other one is updated");

        target("mode", "sql", table + ",\"mode\":\"delete\",\"keys\":[\"no\"]");
        run("mode", columns("no=no=string"));
        assertEquals(wk.text("SELECT count(*) FROM harbour.mode"), "0");
        ObjectNode bad = WireKettle.JSON.createObjectNode().put("kind", "sql");
        bad.putObject("settings")
                .put("connection", "harbour")
                .put("table", "harbour.mode")
                .put("mode", "upsert");
        assertEquals(wk.put("/api/data/targets/mode", bad.toString()).status(), 422, "without a key");
    }

    @Test
    public void withoutAnIndexRowsAreUpdatedOrInsertedOneByOne() throws Exception {
        wk.execute("CREATE SCHEMA IF NOT EXISTS harbour; DROP TABLE IF EXISTS harbour.plain;"
                + "CREATE TABLE harbour.plain (no text, tonnes numeric)");
        target(
                "plain",
                "sql",
                "\"connection\":\"harbour\",\"table\":\"harbour.plain\",\"mode\":\"upsert\",\"keys\":[\"no\"]");
        run("plain", columns("no=no=string", "tonnes=t=decimal"));
        run("plain", columns("no=no=string", "tonnes=t * 2=decimal"));
        assertEquals(wk.text("SELECT string_agg(no || tonnes, ' ' ORDER BY no) FROM harbour.plain"), "A3 B4");
    }
}
