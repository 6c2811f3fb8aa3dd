package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import org.openqa.selenium.Keys;
import org.testng.annotations.Test;
import org.wirekettle.demo.DemoServer;

/**
 * In the browser: a nested JSON file becomes a source, a message with cargo of several kinds is filled from it, and its
 * lines go into a JSON file of their own.
 */
public class NestedDataTest extends ManifestPageTest {

    @Test
    public void manifestsAreFiledWithCargoOfTheRightKinds() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle wk = new WireKettle("nested").logIn()) {
            wk.post(
                            "/api/contracts",
                            "{\"url\":\"" + services.url() + "/cargo/cargo.wsdl\",\"name\":\"CargoManifest\"}")
                    .expect(200);
            wk.put(
                            "/api/connections/cargo-desk",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                                    + "/cargo\"}}}")
                    .expect(204);
            b = new Browser();
            b.logIn(wk);

            b.go(wk.url() + "/data/sources/new");
            b.upload("data file", WireKettle.root().resolve("demo/data/manifests.json"));
            b.find("//th[.//div[.='place/roads/lat']]");
            b.find("//th[.//div[.='line'] and .//button[contains(., 'repeats')]]");
            b.click("[aria-label='record 6']");
            b.find("//*[@aria-label='the record']//*[.='goods']");
            b.click("//th[.//div[.='left_last']]//button");
            b.click("//button[.='show this record']");
            b.find("//*[contains(., '1 record shown')]");
            assertEquals(b.all("//button[starts-with(@aria-label, 'record ')]").size(), 1);
            b.button("show all");
            b.button("Keep");
            b.find("//button[.='Kept']");

            long flow = wk.post(
                            "/api/flows",
                            "{\"name\":\"Manifests\",\"definition\":{\"format\":2,\"steps\":["
                                    + "{\"id\":\"s1\",\"kind\":\"read\",\"source\":\"manifests\"},"
                                    + "{\"id\":\"s2\",\"kind\":\"call\",\"contract\":\"CargoManifest\",\"port\":\"Cargo\","
                                    + "\"operation\":\"FileManifest\",\"connection\":\"cargo-desk\",\"as\":\"filed\","
                                    + "\"fill\":[]}]}}")
                    .expect(200)
                    .get("id")
                    .asLong();
            b.go(wk.url() + "/flows/" + flow + "?step=s2");
            b.find("//*[@data-path='FileManifest/cargo']//*[contains(@class, 'ghost') and .='line']");
            b.button("take all");
            b.find("//*[@data-path='FileManifest/cargo']//*[contains(@class, 'chip') and .='line']");
            b.find("//*[@data-path='FileManifest/vessel']//*[contains(@class, 'chip') and .='vessel_no']");
            kindsByRule();
            b.find("//*[@data-path='FileManifest/cargo/hold']//*[contains(., 'Bulk')]");
            byKeys();
            inOrder();
            inAList();
            fillTheRest();
            b.find("//*[contains(@class, 'st ok') and contains(., 'fits its schema')]");
            b.click("//label[.='XSLT']");
            b.find("//*[contains(@class, 'xml') and contains(., 'xsl:for-each select=\"line\"')]");
            b.says("it makes the same message of the same record");
            b.click("//label[.='Laid out']");
            inASource(wk, flow);
            b.says("all changes saved");
            JsonNode kept = wk.get("/api/flows/" + flow)
                    .expect(200)
                    .get("definition")
                    .get("steps")
                    .get(1);
            assertTrue(kept.toString().contains("stow = 'loose'"), kept.toString());

            b.click("//aside[@aria-label='specimen']//button[starts-with(., 'place')]");
            b.find("//aside[@aria-label='specimen']//td[contains(@title, 'place/berth')]");

            wk.put(
                            "/api/data/targets/lines",
                            "{\"kind\":\"json\",\"settings\":{\"file\":\"lines.json\",\"replace\":true}}")
                    .expect(204);
            String steps = wk.get("/api/flows/" + flow)
                    .expect(200)
                    .get("definition")
                    .get("steps")
                    .toString();
            long both = wk.post(
                            "/api/flows",
                            "{\"name\":\"With lines\",\"definition\":{\"format\":2,\"steps\":"
                                    + steps.substring(0, steps.length() - 1)
                                    + ",{\"id\":\"s3\",\"kind\":\"write\",\"target\":\"lines\",\"from\":\"line\"}]}}")
                    .expect(200)
                    .get("id")
                    .asLong();
            JsonNode run = wk.await(TideFlow.run(wk, both, "all"));
            assertEquals(run.get("done").asLong() + run.get("setAside").asLong(), 36);
            assertEquals(run.get("setAside").asLong(), 5, "a date, two weights, a vessel, an urgency that no list has");
            JsonNode lines = WireKettle.JSON.readTree(Files.readString(wk.home().resolve("targets/lines.json")));
            assertTrue(
                    lines.size() > 36 && lines.get(0).get("hold").isArray(),
                    lines.get(0).toString());
        }
    }

    /** A row is found, cleared, taken again and gone into without the mouse; what is inside of one is folded away. */
    private void byKeys() {
        String head = "//*[@role='grid' and @aria-label='fill']//*[@role='columnheader' and .='element']";
        String vessel = "//*[@data-path='FileManifest/vessel']";
        b.click(head);
        b.keys("fvessel");
        b.gone("//*[@data-path='FileManifest/cargo']");
        b.click(head);
        b.keys(Keys.HOME, Keys.ARROW_DOWN);
        b.find(vessel + "[@aria-selected='true']");
        b.keys(Keys.DELETE);
        b.find(vessel + "//*[contains(@class, 'ghost') and .='vessel_no']");
        b.keys("t");
        b.find(vessel + "//*[contains(@class, 'chip') and .='vessel_no']");
        b.keys(Keys.ENTER);
        b.find(vessel + "//*[@aria-label='value of vessel']");
        b.keys(Keys.ESCAPE);
        b.type("[aria-label='find a row']", Keys.chord(Keys.CONTROL, "a"), Keys.DELETE);
        b.click("//button[@aria-label='fold cargo']");
        b.gone("//*[@data-path='FileManifest/cargo/tonnes']");
        b.click("//button[@aria-label='unfold cargo']");
        b.find("//*[@data-path='FileManifest/cargo/tonnes']");
        b.choose("rows shown", "required and filled");
        b.gone("//*[@data-path='FileManifest/any']");
        b.click("//*[@aria-label='rows shown']/ancestor-or-self::*[contains(@class,'ant-select')][1]");
        b.click("//*[contains(@class,'ant-select-item-option-content') and starts-with(., 'all')]");
    }

    /** Some of the items, the last first; then all as they come again. */
    private void inOrder() {
        b.click("[data-path='FileManifest/cargo'] .mark");
        b.click("[aria-label='which of cargo']");
        String popover = "//div[contains(@class, 'ant-popover')]";
        b.type("(" + popover + "//label[contains(., 'only where')]//input)[1]", "no > 1", Keys.ENTER);
        b.type("(" + popover + "//label[contains(., 'ordered by')]//input)[1]", "number(no)", Keys.ENTER);
        b.click(popover + "//label[contains(., 'the last first')]");
        b.find("//*[@data-path='FileManifest/cargo']//*[contains(@title, 'reverse(sort(line[no > 1], (),')]");
        b.find("//*[@data-path='FileManifest/cargo']//button[.='some, ordered']");
        b.find("//*[@data-path='FileManifest/cargo']//*[contains(@class, 'chip') and .='line']");
        b.keys(Keys.ESCAPE);
        for (int i = 0; i < 3; i++) {
            b.click("//button[.='undo']");
        }
        b.find("//*[@data-path='FileManifest/cargo']//*[@title='for each line']");
    }

    /** What it does not have is said with its value. */
    private void inASource(WireKettle wk, long flow) throws Exception {
        String select = "/ancestor::*[contains(@class,'ant-select')][1]";
        String popover = "//div[contains(@class, 'ant-popover')]";
        TideFlow.source(wk, "urgencies", Files.readString(WireKettle.root().resolve("demo/data/urgencies.csv")));
        b.says("all changes saved");
        b.go(wk.url() + "/flows/" + flow + "?step=s2");
        b.click("[aria-label='list of priority']");
        b.click(popover + "//label[contains(., 'a source')]");
        b.click(popover + "//*[@aria-label='source']" + select);
        b.click("//*[contains(@class, 'ant-select-item-option') and .='urgencies']");
        b.find("//button[@aria-label='list of priority' and .='in urgencies']");
        b.keys(Keys.ESCAPE);
        b.click("//button[contains(@class, 'link') and .='show 5']");
        b.find("//td[contains(., '\u201cRUSH\u201d is not in urgencies')]");
        b.keys(Keys.ESCAPE);
        b.click("[aria-label='next record']");
        b.click("//label[contains(., 'Against record 1')]");
        b.find(".xml .other");
    }
}
