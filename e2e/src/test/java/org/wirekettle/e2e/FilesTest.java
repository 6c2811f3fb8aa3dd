package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.openqa.selenium.Keys;
import org.testng.ITestResult;
import org.testng.annotations.AfterClass;
import org.testng.annotations.AfterMethod;
import org.testng.annotations.Test;
import org.wirekettle.demo.papers.PaperDesk;

/**
 * Files with messages: put into the folder, sent by a flow and by hand, received, taken; by whom and under what name.
 */
public class FilesTest extends ServerTest {
    private static final String OCTETS = "application/octet-stream";
    private PaperDesk desk;
    private Browser b;

    @Override
    protected void prepare() throws Exception {
        desk = new PaperDesk();
        wk.post("/api/contracts", "{\"name\":\"PaperDesk\",\"url\":\"" + desk.url() + "/papers?wsdl\"}")
                .expect(200);
        connection("papers", "\"attachments\":\"mtom\",\"answerFiles\":true");
        connection("inside", "");
        TideFlow.source(wk, "port_calls", TideFlow.manyPortCalls(3));
    }

    @AfterMethod(alwaysRun = true)
    public void end(ITestResult result) throws Exception {
        if (b != null) {
            b.close(result);
            b = null;
        }
    }

    @AfterClass(alwaysRun = true)
    public void closeDesk() {
        if (desk != null) {
            desk.close();
        }
    }

    private void connection(String name, String settings) throws Exception {
        wk.put(
                        "/api/connections/" + name,
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + desk.url()
                                + "/papers\"}},\"settings\":{" + settings + "}}")
                .expect(204);
    }

    private WireKettle.Answer put(String name, String content) throws Exception {
        return wk.exchange("PUT", "/api/files/" + name, content, OCTETS, true);
    }

    private JsonNode send(String connection, String operation, String... rules) throws Exception {
        return wk.post(
                        "/api/contracts/PaperDesk/bench/send",
                        "{\"port\":\"PaperDesk\",\"operation\":\"" + operation + "\",\"connection\":\"" + connection
                                + "\",\"environment\":\"test\",\"rules\":[" + String.join(",", rules) + "]}")
                .expect(200);
    }

    private static String text(String path, String value) {
        return "{\"path\":\"" + path + "\",\"text\":\"" + value + "\"}";
    }

    @Test
    public void aFlowSendsAFileOfEachRecordAndReceivesOne() throws Exception {
        for (int i = 0; i < 3; i++) {
            put("papers/TR-" + i + ".pdf", "the paper of " + i).expect(204);
        }
        String fill = "{\"path\":\"FilePaper/vessel\",\"xpath\":\"vessel_name\"},"
                + "{\"path\":\"FilePaper/content\",\"file\":\"concat('papers/', call_ref, '.pdf')\"}";
        long flow = wk.post(
                        "/api/flows",
                        "{\"name\":\"Papers\",\"definition\":{\"format\":2,\"steps\":["
                                + "{\"id\":\"s1\",\"kind\":\"read\",\"source\":\"port_calls\"},"
                                + "{\"id\":\"s2\",\"kind\":\"call\",\"contract\":\"PaperDesk\",\"operation\":\"FilePaper\","
                                + "\"connection\":\"papers\",\"fill\":[" + fill + "]},"
                                + "{\"id\":\"s3\",\"kind\":\"log\",\"text\":\"{$reply/sha256}\"},"
                                + "{\"id\":\"s4\",\"kind\":\"call\",\"contract\":\"PaperDesk\",\"operation\":\"FetchPaper\","
                                + "\"connection\":\"papers\",\"fill\":[{\"path\":\"FetchPaper/vessel\","
                                + "\"xpath\":\"call_ref\"}]},"
                                + "{\"id\":\"s5\",\"kind\":\"log\",\"text\":\"{$reply/content}\"}]}}")
                .expect(200)
                .get("id")
                .asLong();
        long run = TideFlow.run(wk, flow, "all");
        JsonNode done = wk.await(run);
        assertEquals(done.at("/counts/done").asInt(done.at("/done").asInt()), 3, done.toString());
        JsonNode trail = wk.get("/api/runs/" + run + "/trails/2").expect(200);
        String all = trail.toString();
        assertTrue(all.contains("file:papers/TR-1.pdf"), "the trail names the file: " + all);
        assertTrue(all.contains(PaperDesk.digest("the paper of 1".getBytes(StandardCharsets.UTF_8))), all);
        String name = all.replaceFirst("(?s).*(received/[0-9-]+/[0-9a-f]+-TR-1\\.pdf).*", "$1");
        String received = wk.get("/api/files/" + name).raw().body();
        assertEquals(PaperDesk.digest(received.getBytes(StandardCharsets.UTF_8)), PaperDesk.digest(1_000));
    }

    @Test
    public void byHandAFileGoesInEveryFormAndOneThatIsMissingIsSaid() throws Exception {
        put("one.pdf", "one paper").expect(204);
        String digest = PaperDesk.digest("one paper".getBytes(StandardCharsets.UTF_8));
        String file = "{\"path\":\"FilePaper/content\",\"file\":\"'one.pdf'\"}";
        for (Map.Entry<String, String> form :
                Map.of("papers", "multipart/related", "inside", "text/xml").entrySet()) {
            JsonNode answer = send(form.getKey(), "FilePaper", text("FilePaper/vessel", "Sole"), file);
            assertTrue(answer.get("answer").asText().contains(digest), answer.toString());
            assertTrue(answer.get("request").asText().contains("file:one.pdf"), answer.toString());
            assertTrue(desk.lastType().startsWith(form.getValue()), desk.lastType());
        }
        JsonNode missing = send("papers", "FilePaper", text("FilePaper/vessel", "Sole"), file.replace("one", "none"));
        assertTrue(
                missing.toString().contains("there is no file “none.pdf” in the folder of files"), missing.toString());
        JsonNode inside = send("inside", "FetchPaper", text("FetchPaper/vessel", "V1"), text("FetchPaper/bytes", "3"));
        assertTrue(inside.get("answer").asText().contains(">c2hp<"), inside.toString());
    }

    @Test
    public void filesOfAnswersAreKeptAsLongAsAnAdministratorSays() throws Exception {
        JsonNode answer = send("papers", "FetchPaper", text("FetchPaper/vessel", "OLD"));
        String name = answer.get("answer").asText().replaceFirst("(?s).*file:(received/[^\"]+).*", "$1");
        String xpath = WireKettle.JSON.writeValueAsString(
                Map.of("answer", answer.get("answer").asText(), "xpath", "$reply/content"));
        assertEquals(
                wk.post("/api/contracts/PaperDesk/bench/xpath", xpath)
                        .expect(200)
                        .at("/values/0")
                        .asText(),
                name,
                "the Bench sees what a flow sees");
        put("mine.pdf", "not received").expect(204);
        for (String old : List.of(name, "mine.pdf")) {
            Files.setLastModifiedTime(
                    wk.home().resolve("files").resolve(old),
                    FileTime.from(Instant.now().minus(Duration.ofDays(10))));
        }
        String days = "{\"runs\":90,\"exchanges\":90,\"uploads\":90,\"audit\":90,\"received\":";
        wk.put("/api/settings/retention", days + "0}").expect(422);
        wk.put("/api/settings/retention", days + "11}").expect(200);
        wk.get("/api/files/" + name).expect(200);
        assertEquals(
                wk.put("/api/settings/retention", days + "5}")
                        .expect(200)
                        .get("received")
                        .asInt(),
                1);
        wk.get("/api/files/" + name).expect(404);
        wk.get("/api/files/mine.pdf").expect(200);
    }

    @Test
    public void namesLeadNowhereElse() throws Exception {
        Files.writeString(wk.home().resolve("witness.key"), "not for anybody");
        for (String name : List.of(
                "..%2Fwitness.key",
                "%2Fetc%2Fpasswd", "a%2F..%2F..%2Fb", "received/x.pdf", "a%5Cb", "a%00b", "received")) {
            int status = put(name, "x").status();
            assertTrue(status == 422 || status == 404 || status == 400, name + " " + status);
        }
        assertEquals(wk.get("/api/files/..%2Fwitness.key").status(), 404);
        assertEquals(wk.send("DELETE", "/api/files/..%2Fwitness.key", null).status(), 404);
        assertTrue(Files.isRegularFile(wk.home().resolve("witness.key")), "the key is where it was");
        put("two.pdf", "x").expect(204);
        assertEquals(put("two.pdf/three.pdf", "x").status(), 422, "a file is no folder");
        Path link = wk.home().resolve("files/link");
        Files.createSymbolicLink(link, wk.home().resolve("witness.key"));
        assertEquals(wk.get("/api/files/link").status(), 404);
        JsonNode list = wk.get("/api/files").expect(200);
        assertFalse(list.toString().contains("link"), list.toString());
        wk.send("DELETE", "/api/files/two.pdf", null).expect(204);
        assertEquals(wk.get("/api/files/two.pdf").status(), 404);
    }

    @Test
    public void aFileIsAddedOnItsPageAndSentFromTheBench() throws Exception {
        Path paper = Files.createTempDirectory("paper").resolve("harbour pass.pdf");
        Files.writeString(paper, "a pass");
        b = new Browser();
        b.logIn(wk);
        b.go(wk.url() + "/data/files");
        b.upload("file to add", paper);
        b.find("//td[contains(., 'harbour pass.pdf')]");
        b.go(wk.url() + "/contracts/PaperDesk/PaperDesk/FilePaper");
        b.choose("send over", "inside");
        b.type("[aria-label='vessel']", "Sole");
        b.click("[aria-label='content']");
        b.click("//*[contains(@class, 'benchrow') and contains(., 'content')]//button[. = 'file']");
        b.type("[aria-label='file for content']", "harbour pass.pdf", Keys.ESCAPE);
        b.click("//button[. = 'Send']");
        b.says(PaperDesk.digest("a pass".getBytes(StandardCharsets.UTF_8)));
    }
}
