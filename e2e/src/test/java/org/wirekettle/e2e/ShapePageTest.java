package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.util.List;
import org.openqa.selenium.Keys;
import org.testng.annotations.Test;

/** A shape learnt from samples, a document filled by it in a flow, written by a run; and what keeps a shape there. */
public class ShapePageTest extends BrowserTest {
    @Test
    public void aShapeIsLearntAndADocumentOfItWritten() throws Exception {
        try (WireKettle wk = new WireKettle("shape").logIn()) {
            TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
            wk.put("/api/data/targets/out", "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"o.jsonl\",\"replace\":true}}")
                    .expect(204);
            long flow = wk.post(
                            "/api/flows",
                            "{\"name\":\"Notices\",\"definition\":{\"format\":2,\"steps\":["
                                    + "{\"id\":\"s1\",\"kind\":\"read\",\"source\":\"port_calls\"}]}}")
                    .expect(200)
                    .get("id")
                    .asLong();
            b = new Browser();
            b.logIn(wk);
            b.go(wk.url() + "/data/shapes/new");
            b.type("#sample", "{\"ship\": {\"name\": \"Pintail\"}, \"draught\": 7.5}");
            b.button("Learn the shape");
            b.find("//table[@aria-label='fields']//td[.='decimal']");
            b.type("#sample", "{\"ship\": {\"name\": \"Teal\"}, \"draught\": 8, \"remarks\": [\"late\", \"light\"]}");
            b.button("Learn from this, too");
            b.find("//table[@aria-label='fields']//tr[contains(., 'remarks') and contains(., '0..n')]");
            b.type("[aria-label='shape name']", "notice");
            b.button("Keep");
            b.find("//aside//a[contains(., 'notice')]");
            // By hand: the draught has a limit.
            b.find("//button[contains(., 'Kept')]");
            String schema = wk.get("/api/data/shapes")
                    .expect(200)
                    .get(0)
                    .get("settings")
                    .get("files")
                    .get(0)
                    .get("text")
                    .asText();
            b.replace(".cm-content", schema.replace("\"number\"", "\"number\", \"maximum\": 25"));
            b.find("//table[@aria-label='fields']//tr[contains(., 'draught') and contains(., '25')]");
            b.button("Keep");
            b.find("//button[contains(., 'Kept')]");

            b.go(wk.url() + "/flows/" + flow + "?step=s1");
            b.find("//h1[.='Read']");
            b.keys("a");
            b.keys("docum", Keys.ENTER);
            b.find("//h1[.='Document']");
            b.choose("shape of the document", "notice (JSON)");
            b.click("//*[@role='row']//button[contains(., 'value of name')]");
            b.find("//*[@role='grid']//*[contains(@class, 'cm-focused')]");
            b.keys("vessel_name", Keys.ENTER);
            b.find("//*[@aria-label='value of draught']");
            b.keys("draft_m", Keys.ENTER);
            b.find("//*[@aria-label='value of remarks']");
            b.keys(Keys.ESCAPE);
            b.find("//*[@aria-label='the document' and contains(., '\"name\"') and contains(., 'Ship 0')]");
            b.find("//*[contains(@class, 'st ok') and .='fits its schema']");
            b.says("all changes saved");
            b.keys("a");
            b.keys("out", Keys.ENTER);
            b.find("//h1[.='Write']");
            b.says("all changes saved");
            String steps = wk.get("/api/flows/" + flow)
                    .expect(200)
                    .get("definition")
                    .get("steps")
                    .toString();
            assertTrue(steps.contains("\"shape\":\"notice\""), steps);
            assertTrue(steps.contains("\"from\":\"$notice\""), steps);
            wk.await(TideFlow.run(wk, flow, "all"));
            List<String> lines = Files.readAllLines(wk.home().resolve("targets/o.jsonl"));
            assertEquals(lines.size(), 3);
            assertTrue(lines.get(0).startsWith("{\"ship\":{\"name\":\"Ship 0\"},\"draught\":"), lines.get(0));

            String users =
                    wk.send("DELETE", "/api/data/shapes/notice", null).raw().body();
            assertTrue(users.contains("the flow Notices"), users);
        }
    }

    @Test
    public void aShapeThatIsNoneIsNotKept() throws Exception {
        try (WireKettle wk = new WireKettle("noshape").logIn()) {
            String none = "{\"kind\":\"xsd\",\"settings\":{\"files\":[{\"name\":\"a.xsd\",\"text\":\"<a/>\"}]}}";
            assertEquals(
                    wk.put("/api/data/shapes/a", none).expect(422).get("detail").asText(),
                    "The outermost element of a.xsd is <a>, not a schema.");
            wk.put("/api/data/shapes/a", "{\"kind\":\"toml\",\"settings\":{\"files\":[]}}")
                    .expect(422);
            wk.put("/api/data/shapes/a", "{\"kind\":\"xsd\",\"settings\":{\"files\":[null]}}")
                    .expect(400);
            wk.put("/api/data/shapes/a", "{\"kind\":\"xsd\",\"settings\":{\"files\":[{\"name\":\"a\"}]}}")
                    .expect(400);
            wk.post("/api/data/shapes/learn", "{\"samples\":[{\"name\":\"rows\",\"text\":\"no;ship\\n1;Teal\\n\"}]}")
                    .expect(200);
            wk.post("/api/data/shapes/learn", "{\"samples\":[{\"name\":\"x\",\"upload\":\"../../secret.key\"}]}")
                    .expect(404);
            assertEquals(wk.get("/api/data/shapes").expect(200).size(), 0);
        }
    }
}
