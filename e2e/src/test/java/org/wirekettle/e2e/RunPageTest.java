package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import org.testng.annotations.Test;

/** In the browser: a page is made of a flow and given as a link; a colleague uses it on a phone. */
public class RunPageTest extends BrowserTest {
    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"desk","type":"string","required":true,"choices":["north","south"]},
          {"name":"calls","type":"nested","required":true,"many":true,"fields":[
            {"name":"vessel","type":"string","required":true},
            {"name":"draught","type":"decimal","required":true,"least":"0","most":"30"}]}],
         "samples":[]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","from":"$input/calls","columns":[
          {"name":"vessel","xpath":"vessel","type":"string"},
          {"name":"deep","xpath":"draught > 9","type":"boolean"}]}""";

    private WireKettle wk;

    @Test
    public void aColleagueAsksOnAPhone() throws Exception {
        try (WireKettle server = new WireKettle("runpage").logIn()) {
            wk = server;
            wk.post(
                            "/api/flows",
                            "{\"name\":\"Deep ships\",\"definition\":{\"format\":2,\"steps\":[" + RECEIVE + "," + REPLY
                                    + "]}}")
                    .expect(200);
            b = new Browser();
            b.logIn(wk);
            String link = made();
            b.go(wk.url());
            b.run("return fetch('/api/session', {method: 'DELETE', headers: {'X-Wire-Kettle': '1'}})");
            b.size(390, 844);
            b.go(link);
            asked();
            b.size(1280, 900);
        }
    }

    /** @return its address */
    private String made() {
        b.go(wk.url() + "/published?add=endpoint");
        int before = b.clicks();
        b.click("//*[contains(@class,'ant-segmented-item') and contains(., 'a page')]");
        b.choose("flow", "Deep ships");
        assertEquals(b.find("#page-page").getAttribute("value"), "deep-ships");
        b.replace("#page-title", "Which ships are deep?");
        b.choose("how calls is asked", "a file");
        b.field("calls is called", "List of calls");
        b.field("desk at first", "south");
        b.find("//*[contains(., 'with the columns vessel, draught')]");
        b.click("//section[@aria-label='endpoint']//button[.='Publish']");
        b.find("//a[.='open the page']");
        b.button("Make a link");
        String link = b.text("[aria-label='the new link']");
        assertTrue(b.clicks() - before < 10, b.clicks() - before + " clicks");
        assertTrue(link.startsWith(wk.url() + "/pages/deep-ships#k=wk_"), link);
        return link;
    }

    private void asked() throws Exception {
        b.says("Which ships are deep?");
        b.button("Ask");
        b.says("is missing: choose a file");
        upload("vessel;draught\nMerle;7,2\nTern;many\n");
        b.button("Ask");
        b.says("row 2, draught:");
        upload("Vessel;Draught\nMerle;7,2\nTern;9,5\n");
        b.button("Ask");
        b.find("//section[@aria-label='answer']//td[.='Tern']/following-sibling::td[.='yes']");
        b.find("//button[.='Save as XLSX']");
        String seen = b.text("body");
        assertFalse(seen.contains("Deep ships") || seen.contains("Wire Kettle"), seen);
        assertTrue(seen.contains("This link ends on"), seen);
        assertEquals(
                b.run("return Math.max(0, document.documentElement.scrollWidth - innerWidth)"),
                0L,
                "nothing has to be moved sideways");
    }

    private void upload(String csv) throws Exception {
        Path file = Files.writeString(Files.createTempFile("calls", ".csv"), csv);
        b.find("input[type=file]").sendKeys(file.toString());
        b.says(file.getFileName().toString());
        Files.delete(file);
    }
}
