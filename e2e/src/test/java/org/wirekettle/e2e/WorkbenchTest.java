package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import org.openqa.selenium.Keys;
import org.testng.annotations.Test;
import org.wirekettle.demo.CasesWorkbook;
import org.wirekettle.demo.DemoServer;

/**
 * The whole work with data, in the browser: a nested message out of a JSON file and what will not fit of it, said
 * before any call; its answers taken apart into two tables; a document in a string as one row for each forecast; rows
 * that belong together as one message; a sheet, with its ports looked up, as JSON.
 */
public class WorkbenchTest extends ManifestPageTest {
    private static final String KIND = "//section[@aria-label='record kind %d']";

    private WireKettle wk;

    @Test
    public void dataGoesOutAndComesBackAsItIsWanted() throws Exception {
        try (DemoServer services = TideFlow.services(0, 0);
                WireKettle server = new WireKettle("workbench").logIn()) {
            wk = server;
            contract(services, "CargoManifest", "/cargo/cargo.wsdl", "cargo-desk", "/cargo");
            contract(services, "MarineBulletin", "/bulletin?wsdl", "bulletin", "/bulletin");
            TideFlow.harbour(wk);
            b = new Browser();
            b.logIn(wk);
            manifests();
            takenApart();
            forecasts();
            together();
            sheet();
            System.out.println(
                    "the whole work with data took " + b.clicks() + " clicks, " + b.typed() + " fields typed into");
        }
    }

    private void contract(DemoServer services, String name, String wsdl, String connection, String path)
            throws Exception {
        wk.post("/api/contracts", "{\"url\":\"" + services.url() + wsdl + "\",\"name\":\"" + name + "\"}")
                .expect(200);
        wk.put(
                        "/api/connections/" + connection,
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url() + path + "\"}}}")
                .expect(204);
    }

    private void source(Path file) {
        b.go(wk.url() + "/data/sources/new");
        b.upload("data file", file);
    }

    private void keep() {
        b.button("Keep");
        b.find("//button[.='Kept']");
    }

    /** A flow as it begins: a source, and a call, a pick and a write to be chosen. */
    private void flow(String source) {
        b.go(wk.url() + "/flows");
        b.click("//button[contains(., 'Make a flow') or .='New flow']");
        b.choose("source", source);
        b.find("//aside[@aria-label='specimen']");
    }

    private void step(String kind) {
        b.click("//button[contains(@class,'step') and .//span[.='" + kind + "']]");
    }

    private void add(String typed) {
        b.click("//button[contains(., 'add a step')]");
        b.keys(typed);
        b.find("//*[@role='option']");
        b.keys(Keys.ENTER);
    }

    private void manifests() throws Exception {
        source(WireKettle.root().resolve("demo/data/manifests.json"));
        b.find("//th[.//div[.='line'] and .//button[contains(., 'repeats')]]");
        keep();
        flow("manifests");
        step("call");
        b.click("//tr//button[.='CargoManifest']");
        b.click("//tr//button[.='FileManifest']");
        b.find("//*[@data-path='FileManifest/cargo']//*[contains(@class, 'ghost') and .='line']");
        b.button("take all");
        inAList();
        kindsByRule();
        fillTheRest();
        b.find("//*[contains(@class, 'st ok') and contains(., 'fits its schema')]");
        // What will not fit, before any call.
        b.says("fits 3");
        b.says("of 36 records");
        b.says("all changes saved");
    }

    /** The manifest that the desk has then, and each of its lines: a table of each, with a key that links them. */
    private void takenApart() throws Exception {
        add("CargoManifest");
        b.click("//tr//button[.='GetManifest']");
        b.click("[data-path='GetManifest/vessel'] > :nth-child(5)");
        b.keys("vessel_no", Keys.ENTER);
        b.button("Try the call");
        b.says("GetManifestResponse");
        step("pick");
        each(1, "each cargo (repeats)");
        b.click(kind(1) + "//button[.='take all']");
        b.button("Add a record kind");
        each(2, "the whole answer");
        b.click(kind(2) + "//button[.='take all']");
        b.click(kind(1) + "//button[contains(., 'link to')]");
        b.click("//*[contains(@class, 'ant-popover')]//label[.='vessel']");
        b.button("Link");
        b.find("//*[@aria-label='2 result_2']//*[contains(@class, 'st ok') and contains(., '1 record')]");
        step("write");
        table("manifest_line");
        step("pick");
        b.click(kind(2) + "//button[.='write them']");
        table("manifest_head");
        runAll();
        long heads = wk.count("SELECT count(*) FROM manifest_head");
        long linked = wk.count(
                "SELECT count(*) FROM manifest_line l" + " JOIN manifest_head h ON h.result_2_id = l.result_2_id");
        assertTrue(heads > 20 && linked > heads, heads + " heads, " + linked + " lines that have theirs");
    }

    /** One row a forecast, out of a document that is a string of the answer. */
    private void forecasts() throws Exception {
        source(WireKettle.root().resolve("demo/data/sea_areas.csv"));
        keep();
        flow("sea_areas");
        step("call");
        b.click("//tr//button[.='MarineBulletin']");
        b.click("//tr//button[.='GetBulletin']");
        b.button("take all");
        b.button("Try the call");
        b.says("bulletin");
        step("pick");
        each(1, "each GetBulletinResult/bulletin/watch (repeats)");
        b.click(kind(1) + "//button[.='take all']");
        b.find("//*[contains(@class, 'st ok') and contains(., '3 records')]");
        step("write");
        table("forecast");
        runAll();
        assertEquals(wk.count("SELECT count(*) FROM forecast"), 11 * 3, "one bulletin is cut short");
    }

    /** Rows of one order become one message with its lines. */
    private void together() throws Exception {
        source(WireKettle.root().resolve("demo/data/order_lines.csv"));
        b.click("//label[contains(., 'adjacent ones with the same')]");
        b.find("//th[.//div[.='row'] and .//button[contains(., 'repeats')]]");
        keep();
        flow("order_lines");
        without("call");
        without("pick");
        json("orders");
        JsonNode orders = written("orders");
        assertEquals(orders.get(1).get("batch_ref").asText(), "BO-0202");
        assertEquals(orders.get(1).get("row").size(), 2, orders.get(1).toString());
    }

    /** A sheet below its title, its dates and numbers as such. */
    private void sheet() throws Exception {
        Path file = Path.of(WireKettle.env("WK_TEST_WORK"), "cases.xlsx");
        Files.write(file, CasesWorkbook.of(WireKettle.root().resolve("demo/data/cases.csv")));
        source(file);
        b.choose("sheet", "Cases");
        b.replace("[aria-label='range of cells']", "A3");
        b.keys(Keys.ENTER);
        b.find("//th[.//div[.='draught'] and contains(., 'decimal')]");
        keep();
        flow("cases");
        without("call");
        without("pick");
        json("cases_listed");
        JsonNode cases = written("cases_listed");
        assertEquals(cases.size(), 24);
        assertEquals(cases.get(0).get("eta").asText(), "2031-04-06T04:00:00");
    }

    private void without(String kind) {
        step(kind);
        b.button("Remove step");
    }

    /** The records go into a JSON file as they are. */
    private void json(String name) throws Exception {
        step("write");
        b.choose("what is written", "the record itself");
        b.click("//label[.='JSON']");
        b.replace("#target-file", name + ".json");
        b.button("Make the target");
        b.says("open it");
        runAll();
    }

    private JsonNode written(String name) throws Exception {
        return WireKettle.JSON.readTree(Files.readString(wk.home().resolve("targets/" + name + ".json")));
    }

    /** A table for what is written, as the page proposes it. */
    private void table(String name) {
        b.click("//label[contains(., 'a table')]");
        b.field("table", name);
        b.keys(Keys.TAB);
        b.button("Make the table with");
        b.says("open it");
    }

    private void runAll() throws Exception {
        b.says("all changes saved");
        b.click("//label[starts-with(normalize-space(.), 'All ')]");
        long before = wk.count("SELECT coalesce(max(id), 0) FROM run");
        b.button("Run");
        String run = b.text("//a[starts-with(., 'run ') and not(. = 'run " + before + "')]");
        JsonNode ended = wk.await(Long.parseLong(run.substring(4)));
        assertEquals(ended.get("state").asText(), "finished");
        assertTrue(ended.get("done").asLong() > 0, ended.toString());
    }

    private static String kind(int number) {
        return String.format(KIND, number);
    }

    private void each(int number, String what) {
        b.click(kind(number) + "//*[contains(@class, 'ant-select')][.//input[@aria-label='one record is']]");
        b.click("//*[contains(@class, 'ant-select-item-option') and .='" + what + "']");
    }
}
