package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;

import java.nio.file.Files;
import org.openqa.selenium.Keys;
import org.testng.annotations.Test;

/** A stylesheet as a step: seen as it is typed, its mistakes by line, and what it gives written by a run. */
public class TransformPageTest extends BrowserTest {
    @Test
    public void aStylesheetIsAStep() throws Exception {
        try (WireKettle wk = new WireKettle("transform").logIn()) {
            TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
            wk.put("/api/data/targets/out", "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"o.jsonl\",\"replace\":true}}")
                    .expect(204);
            long flow = wk.post(
                            "/api/flows",
                            "{\"name\":\"Sheets\",\"definition\":{\"format\":2,\"steps\":["
                                    + "{\"id\":\"s1\",\"kind\":\"read\",\"source\":\"port_calls\"}]}}")
                    .expect(200)
                    .get("id")
                    .asLong();
            b = new Browser();
            b.logIn(wk);
            b.go(wk.url() + "/flows/" + flow + "?step=s1");
            b.find("//h1[.='Read']");
            b.keys("a");
            b.keys("transf", Keys.ENTER);
            b.find("//h1[.='Transform']");
            b.find("//*[@aria-label='what it gives']//*[.='call_ref']");
            String sheet = "<xsl:stylesheet version='3.0' xmlns:xsl='http://www.w3.org/1999/XSL/Transform'>\n"
                    + "<xsl:template match='/*'><ship><name><xsl:value-of select='upper-case(vessel_name)'/></name></ship>"
                    + "</xsl:template></xsl:stylesheet>";
            b.replace(".cm-content", sheet.replace("select='upper", "select='uppper"));
            b.find("//*[@aria-label='what it gives']//*[contains(., 'line 2') and contains(., 'uppper-case')]");
            b.replace(".cm-content", sheet);
            b.find("//*[@aria-label='what it gives']//*[.='SHIP 0']");
            b.says("all changes saved");
            String steps = wk.get("/api/flows/" + flow)
                    .expect(200)
                    .get("definition")
                    .get("steps")
                    .toString();
            long both = wk.post(
                            "/api/flows",
                            "{\"name\":\"Written\",\"definition\":{\"format\":2,\"steps\":"
                                    + steps.substring(0, steps.length() - 1)
                                    + ",{\"id\":\"w\",\"kind\":\"write\",\"target\":\"out\",\"from\":\"$made\"}]}}")
                    .expect(200)
                    .get("id")
                    .asLong();
            wk.await(TideFlow.run(wk, both, "all"));
            assertEquals(
                    Files.readAllLines(wk.home().resolve("targets/o.jsonl")).get(0), "{\"name\":\"SHIP 0\"}");
        }
    }
}
