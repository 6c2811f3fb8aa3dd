package org.wirekettle.e2e;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.ByteArrayInputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import javax.xml.parsers.DocumentBuilderFactory;
import org.testng.annotations.AfterClass;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import org.w3c.dom.Document;
import org.wirekettle.demo.DemoServer;

/** Flows published as operations of SOAP services, asked by a client that knows nothing of us but their WSDL. */
public class SoapServicesTest {
    private static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";
    private static final String SOAP12 = "http://www.w3.org/2003/05/soap-envelope";
    private static final String WSSE =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd";
    private static final String RECEIVE = """
        {"id":"in","kind":"receive","inputs":[
          {"name":"draught","type":"decimal","required":true,"least":"0","most":"30"},
          {"name":"note","type":"string"}],
         "samples":[{"name":"usual","json":"{\\"draught\\": 7.2}"}]}""";
    private static final String REPLY = """
        {"id":"out","kind":"reply","columns":[{"name":"deep","xpath":"draught > 9","type":"boolean"}]}""";

    private final HttpClient http = HttpClient.newHttpClient();
    private WireKettle wk;
    private DemoServer services;
    private String key;

    @BeforeClass
    public void start() throws Exception {
        services = TideFlow.services(0, 0);
        wk = new WireKettle("soap").logIn();
        TideFlow.make(wk, services, TideFlow.manyPortCalls(3), 2);
        key = wk.post("/api/keys/gull", "{}").expect(200).get("key").asText();
    }

    @AfterClass(alwaysRun = true)
    public void end() throws Exception {
        services.close();
        wk.close();
    }

    private HttpResponse<String> send(String address, String body, String... headers) throws Exception {
        HttpRequest.Builder b = HttpRequest.newBuilder(URI.create(address));
        b = body == null ? b.GET() : b.POST(HttpRequest.BodyPublishers.ofString(body));
        for (int i = 0; i < headers.length; i += 2) {
            b.setHeader(headers[i], headers[i + 1]);
        }
        return http.send(b.build(), HttpResponse.BodyHandlers.ofString());
    }

    private HttpResponse<String> ask(String service, String envelope) throws Exception {
        String type = envelope.contains(SOAP12) ? "application/soap+xml" : "text/xml; charset=utf-8";
        return send(wk.url() + "/soap/" + service, envelope, "Content-Type", type, "Authorization", "Bearer " + key);
    }

    private static String envelope(String soap, String headers, String body) {
        return "<e:Envelope xmlns:e='" + soap + "'><e:Header>" + headers + "</e:Header><e:Body>" + body
                + "</e:Body></e:Envelope>";
    }

    private static String depth(String value) {
        return "<IsDeep xmlns='urn:wire-kettle:Depths'><draught>" + value + "</draught></IsDeep>";
    }

    private static Document dom(String xml) throws Exception {
        DocumentBuilderFactory f = DocumentBuilderFactory.newInstance();
        f.setNamespaceAware(true);
        return f.newDocumentBuilder().parse(new ByteArrayInputStream(xml.getBytes(StandardCharsets.UTF_8)));
    }

    private static String of(String xml, String local) throws Exception {
        var found = dom(xml).getElementsByTagNameNS("*", local);
        return found.getLength() == 0 ? "" : found.item(0).getTextContent();
    }

    private long flow(String name, String... steps) throws Exception {
        return wk.post(
                        "/api/flows",
                        "{\"name\":\"" + name + "\",\"definition\":{\"format\":2,\"steps\":[" + String.join(",", steps)
                                + "]}}")
                .expect(200)
                .get("id")
                .asLong();
    }

    private void publish(String name, long flow, String soap) throws Exception {
        wk.put("/api/endpoints/" + name, "{\"flow\":" + flow + ",\"environment\":\"test\",\"soap\":{" + soap + "}}")
                .expect(200);
        WireKettle.until(name + " does not get ready", () -> wk.get("/api/endpoints/" + name)
                .expect(200)
                .get("state")
                .asText()
                .equals("ready"));
    }

    @Test
    public void aFlowIsAServiceWhoseDescriptionIsAContractAgain() throws Exception {
        publish("depths", flow("Depths", RECEIVE, REPLY), "\"service\":\"Depths\",\"operation\":\"IsDeep\"");
        for (String soap : new String[] {SOAP11, SOAP12}) {
            HttpResponse<String> r = ask("Depths", envelope(soap, "", depth("9.5")));
            assertEquals(r.statusCode(), 200, r.body());
            assertEquals(of(r.body(), "deep"), "true");
            assertEquals(dom(r.body()).getDocumentElement().getNamespaceURI(), soap);
        }
        HttpResponse<String> unfit = ask("Depths", envelope(SOAP11, "", depth("31")));
        assertEquals(unfit.statusCode(), 500);
        assertEquals(of(unfit.body(), "at"), "/draught");
        assertTrue(of(unfit.body(), "faultcode").endsWith(":Client"), unfit.body());
        assertEquals(ask("Depths", envelope(SOAP12, "", depth("31"))).statusCode(), 400);
        assertEquals(ask("Depths", envelope(SOAP11, "", "<Sink/>")).statusCode(), 500);
        assertEquals(ask("Nothing", envelope(SOAP11, "", "<Sink/>")).statusCode(), 404);
        assertEquals(send(wk.url() + "/soap/Depths", null).statusCode(), 405);
        assertEquals(
                send(wk.url() + "/soap/Depths", "{}", "Content-Type", "application/json")
                        .statusCode(),
                415);

        wk.post("/api/contracts", "{\"url\":\"" + wk.url() + "/soap/Depths?wsdl\",\"name\":\"Depths again\"}")
                .expect(200);
        JsonNode contract = wk.get("/api/contracts/Depths%20again").expect(200);
        assertTrue(contract.toString().contains("IsDeep"), contract.toString());
        assertEquals(contract.get("notes").size(), 0, contract.get("notes").toString());
        JsonNode endpoint = wk.get("/api/endpoints/depths").expect(200);
        assertEquals(endpoint.get("url").asText(), wk.url() + "/soap/Depths");
        assertTrue(
                endpoint.get("traffic").get("refused").asLong() >= 2,
                endpoint.get("traffic").toString());
    }

    @Test
    public void whoAsksIsKnownByATokenOrAKey() throws Exception {
        publish("keyed", flow("Keyed", RECEIVE, REPLY), """
            "service":"Keyed","operation":"IsDeep","namespace":"urn:wire-kettle:Depths","wsdlForKeys":true""");
        String address = wk.url() + "/soap/Keyed";
        String[] type = {"Content-Type", "text/xml"};
        HttpResponse<String> nobody = send(address, envelope(SOAP11, "", depth("1")), type);
        assertEquals(nobody.statusCode(), 401, nobody.body());
        assertTrue(of(nobody.body(), "faultcode").endsWith("FailedAuthentication"), nobody.body());
        assertEquals(send(address + "?wsdl", null).statusCode(), 401);
        assertEquals(send(address + "?wsdl", null, "X-API-Key", key).statusCode(), 200);
        String token = "<w:Security e:mustUnderstand='1' xmlns:w='" + WSSE + "'><w:UsernameToken><w:Username>%s"
                + "</w:Username><w:Password Type='%s'>%s</w:Password></w:UsernameToken></w:Security>";
        HttpResponse<String> good = send(address, envelope(SOAP11, token.formatted("gull", "", key), depth("1")), type);
        assertEquals(good.statusCode(), 200, good.body());
        for (String other : new String[] {
            token.formatted("tern", "", key),
            token.formatted("gull", "", "wk_x"),
            token.formatted("gull", "#PasswordDigest", key)
        }) {
            HttpResponse<String> r = send(address, envelope(SOAP11, other, depth("1")), type);
            assertEquals(r.statusCode(), 500, r.body());
            assertTrue(of(r.body(), "faultcode").endsWith("FailedAuthentication"), r.body());
            assertFalse(r.body().contains(key), "the key is not said back");
        }
        assertEquals(
                wk.get("/api/endpoints/keyed")
                        .expect(200)
                        .get("callers")
                        .get(0)
                        .get("caller")
                        .asText(),
                "gull");
    }

    @Test
    public void whatIsPausedSaysSoAndIsStillDescribed() throws Exception {
        publish("later", flow("Later", RECEIVE, REPLY), """
            "service":"Later","operation":"IsDeep","namespace":"urn:wire-kettle:Depths","open":true""");
        wk.post("/api/endpoints/later/turn", "{\"on\":false}").expect(200);
        WireKettle.until(
                "it is not described",
                () -> send(wk.url() + "/soap/Later?wsdl", null).statusCode() == 200);
        HttpResponse<String> r = ask("Later", envelope(SOAP11, "", depth("1")));
        assertEquals(r.statusCode(), 503, r.body());
        assertTrue(r.headers().firstValue("retry-after").isPresent());
        assertTrue(of(r.body(), "faultstring").contains("paused"), r.body());
        // Another operation of the service needs a name of its own, and the same namespace.
        long flow = flow("Later too", RECEIVE, REPLY);
        for (String soap : new String[] {
            "\"service\":\"Later\",\"operation\":\"IsDeep\",\"namespace\":\"urn:wire-kettle:Depths\"",
            "\"service\":\"Later\",\"operation\":\"Other\""
        }) {
            wk.put(
                            "/api/endpoints/later-too",
                            "{\"flow\":" + flow + ",\"environment\":\"test\",\"soap\":{" + soap + "}}")
                    .expect(422);
        }
    }

    /** Of several operations none works: who asks is told to come again, whatever they ask. */
    @Test
    public void whatDoesNotWorkSaysSo() throws Exception {
        wk.execute("CREATE TABLE gone (draught numeric)");
        wk.put(
                        "/api/data/targets/gone",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"gone\"}}")
                .expect(204);
        long flow = flow("Gone", RECEIVE, """
            {"id":"w","kind":"write","target":"gone","columns":[{"name":"draught","xpath":"draught"}]}""", REPLY);
        String[] names = {"gone-one", "gone-two"};
        for (String name : names) {
            String operation = name.equals("gone-one") ? "One" : "Two";
            publish(name, flow, "\"service\":\"Gone\",\"operation\":\"" + operation + "\",\"open\":true");
        }
        wk.execute("DROP TABLE gone");
        for (String name : names) {
            wk.post("/api/endpoints/" + name + "/turn", "{\"on\":false}").expect(200);
            wk.post("/api/endpoints/" + name + "/turn", "{\"on\":true}").expect(200);
            WireKettle.until(name + " works", () -> wk.get("/api/endpoints/" + name)
                    .expect(200)
                    .get("state")
                    .asText()
                    .equals("failed"));
        }
        for (String body : new String[] {"<One/>", "<Other/>", ""}) {
            HttpResponse<String> r = ask("Gone", envelope(SOAP11, "", body));
            assertEquals(r.statusCode(), 503, body + r.body());
            assertTrue(r.headers().firstValue("retry-after").isPresent());
        }
        assertEquals(send(wk.url() + "/soap/Gone?wsdl", null).statusCode(), 503);
        wk.send("DELETE", "/api/endpoints/gone-one", null).expect(204);
        wk.send("DELETE", "/api/endpoints/gone-two", null).expect(204);
    }

    /** Another version of one operation's flow must not take the others of its service along. */
    @Test
    public void aVersionThatDoesNotGoTogetherDoesNotGoLive() throws Exception {
        String own = RECEIVE + "," + REPLY;
        long changing = flow("Changing", own);
        publish("mixed-one", changing, "\"service\":\"Mixed\",\"operation\":\"GetTideWindow\",\"open\":true");
        publish("mixed-two", flow("Steady", own), "\"service\":\"Mixed\",\"operation\":\"Two\",\"open\":true");
        wk.put("/api/flows/" + changing, """
            {"name":"Changing","version":1,"definition":{"format":2,"steps":[
              {"id":"in","kind":"receive","inputs":[],"samples":[],
               "request":{"contract":"TideDesk","operation":"GetTideWindow"}},
              {"id":"no","kind":"reply","columns":[],"fault":"UnknownPort",
               "fill":[{"path":"UnknownPort/portCode","xpath":"portCode"}]}]}}""").expect(200);
        wk.post("/api/endpoints/mixed-one/live", "{\"version\":2}").expect(422);
        String two = "<Two xmlns='urn:wire-kettle:Mixed'><draught>9.5</draught></Two>";
        assertEquals(ask("Mixed", envelope(SOAP11, "", two)).statusCode(), 200);
    }

    @Test
    public void aFlowAnswersInPlaceOfAService() throws Exception {
        String operation = "{\"contract\":\"TideDesk\",\"operation\":\"GetTideWindow\"}";
        String branch = """
            {"id":"b","kind":"branch","arms":[{"when":"$input/portCode = 'NOPEX'","steps":[
              {"id":"no","kind":"reply","fault":"UnknownPort","text":"there is no {portCode}",
               "fill":[{"path":"UnknownPort/portCode","xpath":"portCode"}]}]}],
             "otherwise":[{"id":"yes","kind":"reply","fill":[
              {"path":"GetTideWindowResponse/window/@ref","text":"ours"},
              {"path":"GetTideWindowResponse/window/opensAt","xpath":"arrival"},
              {"path":"GetTideWindowResponse/window/closesAt","xpath":"arrival"},
              {"path":"GetTideWindowResponse/window/clearance","xpath":"draught"}]}]}""";
        long flow = flow(
                "Tides ourselves",
                "{\"id\":\"in\",\"kind\":\"receive\",\"inputs\":[],\"samples\":[],\"request\":" + operation + "}",
                branch);
        publish("tides", flow, "\"service\":\"Tides\",\"operation\":\"GetTideWindow\"");
        String wsdl = send(wk.url() + "/soap/Tides?wsdl", null).body();
        assertTrue(wsdl.contains("location=\"" + wk.url() + "/soap/Tides\""), wsdl);
        assertEquals(dom(wsdl).getDocumentElement().getAttribute("targetNamespace"), "urn:tallow-reach:tidedesk");
        String asked = "<t:GetTideWindow xmlns:t='urn:tallow-reach:tidedesk'><t:portCode>%s</t:portCode>"
                + "<t:arrival>2031-04-02T21:40:00Z</t:arrival><t:draught>%s</t:draught></t:GetTideWindow>";
        HttpResponse<String> r = ask("Tides", envelope(SOAP12, "", asked.formatted("TLWRC", "7.2")));
        assertEquals(r.statusCode(), 200, r.body());
        assertEquals(of(r.body(), "clearance"), "7.2");
        HttpResponse<String> fault = ask("Tides", envelope(SOAP11, "", asked.formatted("NOPEX", "7.2")));
        assertEquals(fault.statusCode(), 500);
        assertEquals(of(fault.body(), "portCode"), "NOPEX");
        assertTrue(of(fault.body(), "faultstring").contains("there is no NOPEX"), fault.body());
        HttpResponse<String> unfit = ask("Tides", envelope(SOAP11, "", asked.formatted("TLWRC", "31")));
        assertTrue(of(unfit.body(), "at").contains("draught"), unfit.body());
        JsonNode tried = wk.post(
                        "/api/endpoints/tides/try",
                        WireKettle.JSON.writeValueAsString(java.util.Map.of("sample", asked.formatted("TLWRC", "7"))))
                .expect(200);
        assertEquals(tried.get("status").asInt(), 200, tried.toString());
    }
}
