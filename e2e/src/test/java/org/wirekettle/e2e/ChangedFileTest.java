package org.wirekettle.e2e;

import java.nio.file.Files;
import java.nio.file.Path;
import org.testng.annotations.Test;

/** In the browser: another file for a source says what is other about its fields, and which flows use them. */
public class ChangedFileTest extends BrowserTest {
    @Test
    public void whatFlowsUseOfAnotherFileIsSaidBeforeItIsKept() throws Exception {
        try (WireKettle wk = new WireKettle("changed").logIn()) {
            TideFlow.source(wk, "ships", "name;draft;port\nTern;7.5;TLWRC\nCurlew;6.1;OSTRY\n");
            wk.put("/api/data/targets/out", "{\"kind\":\"jsonl\",\"settings\":{\"file\":\"o.jsonl\",\"replace\":true}}")
                    .expect(204);
            wk.post(
                            "/api/flows",
                            "{\"name\":\"Depths\",\"definition\":{\"format\":2,\"steps\":["
                                    + "{\"id\":\"s1\",\"kind\":\"read\",\"source\":\"ships\"},"
                                    + "{\"id\":\"w\",\"kind\":\"write\",\"target\":\"out\",\"columns\":["
                                    + "{\"name\":\"deep\",\"xpath\":\"draft > 7\"}]}]}}")
                    .expect(200);
            Path other = Files.writeString(
                    wk.home().resolve("ships.csv"), "name;draft_m;port\nTern;7.5;TLWRC\nCurlew;6.1;OSTRY\n");
            b = new Browser();
            b.logIn(wk);
            b.go(wk.url() + "/data/sources/ships");
            b.find("//th[.//div[.='draft']]");
            b.upload("data file", other);
            String said = "//*[@aria-label='what is other than before']";
            b.find(said + "//li[contains(., 'draft is gone') and contains(., 'used by Depths')]");
            b.find(said + "//li[contains(., 'draft_m is new')]");
        }
    }
}
