package org.wirekettle.e2e;

import java.nio.file.Files;
import org.wirekettle.demo.DemoServer;

/** Sets a server up with the tide desk, a source and a target, for tests that are about running. */
final class TideFlow {
    private TideFlow() {}

    static DemoServer services(int delayMillis, int dropEvery) throws Exception {
        return new DemoServer(new DemoServer.Settings(0, delayMillis, 0, dropEvery, true));
    }

    /** @param csv the port calls; @return the flow's id */
    static long make(WireKettle wk, DemoServer services, String csv, int parallel) throws Exception {
        wk.execute(Files.readString(WireKettle.root().resolve("demo/data/harbour.sql")));
        wk.post("/api/contracts", "{\"url\":\"" + services.url() + "/tidedesk?wsdl\"}")
                .expect(200);
        wk.put(
                        "/api/connections/tide-desk",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + services.url()
                                + "/tidedesk\",\"parallel\":64}}}")
                .expect(204);
        harbour(wk);
        source(wk, "port_calls", csv);
        wk.put(
                        "/api/data/targets/tide_window",
                        "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\","
                                + "\"table\":\"harbour.tide_window\"}}")
                .expect(204);
        String definition = Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json"))
                .replace("\"parallel\": 8", "\"parallel\": " + parallel);
        return wk.post("/api/flows", "{\"name\":\"Tide windows\",\"definition\":" + definition + "}")
                .expect(200)
                .get("id")
                .asLong();
    }

    /**
     * A step that asks for a tide window. @param port of the harbour. @param vessel an expression for the ship's name
     */
    static String ask(String port, String vessel) {
        return """
            {"id":"ask","kind":"call","contract":"TideDesk","port":"TideDesk12","operation":"GetTideWindow",
             "connection":"tide-desk","fill":[
              {"path":"GetTideWindow/portCode","text":"PORT"},
              {"path":"GetTideWindow/arrival","text":"2031-04-02T21:40:00Z"},
              {"path":"GetTideWindow/draught","xpath":"draught"},
              {"path":"GetTideWindow/vessel/name","xpath":"VESSEL"},
              {"path":"GetTideWindow/choice","branch":"email"},
              {"path":"GetTideWindow/choice/email","text":"desk@gannet.example"}]}""".replace("PORT", port).replace("VESSEL", vessel);
    }

    /** The connection to this server's own database, as if it were the harbour's. */
    static void harbour(WireKettle wk) throws Exception {
        wk.put(
                        "/api/connections/harbour",
                        "{\"kind\":\"database\",\"environments\":{\"test\":{\"url\":\"" + wk.databaseUrl()
                                + "\",\"user\":\"" + WireKettle.env("WK_TEST_PG_USER")
                                + "\",\"secret\":\"harbour\"}},\"secrets\":{"
                                + "\"harbour\":\"" + WireKettle.env("WK_TEST_PG_PASSWORD") + "\"}}")
                .expect(204);
    }

    static void source(WireKettle wk, String name, String csv) throws Exception {
        var file = wk.exchange("POST", "/api/data/files?name=" + name + ".csv", csv, "application/octet-stream", true)
                .expect(200);
        wk.put("/api/data/sources/" + name, "{\"kind\":\"csv\",\"settings\":" + file.get("settings") + "}")
                .expect(204);
    }

    /** The demo's flow under another name, with one text in it replaced. */
    static long changed(WireKettle wk, String name, String from, String to) throws Exception {
        String definition = Files.readString(WireKettle.root().resolve("demo/data/tide_windows.flow.json"))
                .replace(from, to);
        return wk.post("/api/flows", "{\"name\":\"" + name + "\",\"definition\":" + definition + "}")
                .expect(200)
                .get("id")
                .asLong();
    }

    static long run(WireKettle wk, long flow, String scope) throws Exception {
        return wk.post("/api/runs", "{\"flow\":" + flow + ",\"environment\":\"test\",\"scope\":\"" + scope + "\"}")
                .expect(200)
                .get("id")
                .asLong();
    }

    static String portCalls() throws Exception {
        return Files.readString(WireKettle.root().resolve("demo/data/port_calls.csv"));
    }

    /** So many port calls, all of them good and all different. */
    static String manyPortCalls(int count) {
        StringBuilder out =
                new StringBuilder("call_ref;port;eta;etd;draft_m;vessel_name;vessel_no;call_sign;gt;agent_email\n");
        for (int i = 0; i < count; i++) {
            out.append("TR-")
                    .append(i)
                    .append(";TLWRC;02.04.2031 10:")
                    .append(String.format("%02d", i % 60))
                    .append(";03.04.2031 10:00;7.5;Ship ")
                    .append(i)
                    .append(";")
                    .append(7_000_000 + i)
                    .append(";MABC1;12000;desk@gannet.example\n");
        }
        return out.toString();
    }
}
