package org.wirekettle.bench;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * Bulk calls through the packaged server, trail and accounting included, beside {@link HandWritten} in the same run,
 * with the JDK's HTTP client and with ours: the same service, the same database, the same records, in turns, all warm.
 * Prints records a second of each and the ratio to the faster one (median over rounds).
 */
public final class BulkRun {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final int WARM_RECORDS = 100_000;
    private static final int WARM_PARALLEL = 8;
    private static final int WARM_TURNS = 3;
    /** That a record is split into. */
    static final int PARTS = 10;

    private static final String FILL = """
            {"path": "GetTideWindow/portCode", "xpath": "$record/port"}, {"path": "GetTideWindow/arrival",
            "xpath": "wk:date-time($record/eta, 'dd.MM.yyyy HH:mm')"},
            {"path": "GetTideWindow/draught", "xpath": "$record/draft_m"}, {"path": "GetTideWindow/vessel/name",
            "xpath": "$record/vessel_name"},
            {"path": "GetTideWindow/vessel/callSign", "xpath": "$record/call_sign"},
            {"path": "GetTideWindow/vessel/grossTonnage", "xpath": "$record/gt"},
            {"path": "GetTideWindow/choice", "branch": "email"}, {"path": "GetTideWindow/choice/email",
            "xpath": "$record/agent_email"}""";
    private final HttpClient http =
            HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
    private final String server;
    private boolean hasToken;
    private String cookie;

    private BulkRun(String server) {
        this.server = server;
    }

    /**
     * Arguments: server, service answering at once, service answering in 20 ms, JDBC address, user, folder, rounds, and
     * what of it. Passwords are in the environment.
     */
    public static void main(String[] a) throws Exception {
        BulkRun bulk = new BulkRun(a[0]);
        String fast = a[1];
        String slow = a[2];
        String jdbc = a[3];
        Path folder = Path.of(a[5]);
        int rounds = Integer.parseInt(a[6]);
        String only = a.length > 7 ? a[7] : "";
        String password = System.getenv("WK_DATABASE_PASSWORD");
        bulk.logIn(System.getenv("WK_ADMIN_PASSWORD"));
        String batched = jdbc + (jdbc.contains("?") ? "&" : "?") + "reWriteBatchedInserts=true";
        try (Connection db = DriverManager.getConnection(batched, a[4], password)) {
            bulk.prepare(fast, jdbc, a[4], password, db);
            if (only.equals("long")) {
                bulk.longRun(folder, fast, db);
                return;
            }
            if (only.equals("large")) {
                bulk.largeAnswers(folder, db);
                return;
            }
            if (only.equals("split")) {
                bulk.split(folder, slow, db, rounds);
                return;
            }
            // What else is said is which of the rows.
            bulk.hasToken = only.startsWith("token");
            String row = bulk.hasToken ? only.substring("token".length()) : only;
            bulk.warmUp(folder, fast, db);
            System.out.printf(
                    "%-9s %-9s %-9s %12s %12s %14s %8s   %s%n",
                    "answer", "parallel", "records", "by hand, JDK", "by hand", "wire kettle/s", "ratio", "rounds");
            for (int[] c : new int[][] {
                {0, 1, 20_000}, {0, 8, 40_000}, {0, 32, 40_000}, {20, 1, 400}, {20, 8, 3_000}, {20, 32, 12_000}
            }) {
                if (row.isEmpty() || row.equals(c[0] + ":" + c[1])) {
                    bulk.compare(folder, c[0] == 0 ? fast : slow, c[0], c[1], c[2], db, rounds);
                }
            }
        }
    }

    /**
     * Until the compilers of both JVMs have little left to do: after one round of a few seconds a quarter of the
     * server's time still goes there, and of a small program's none.
     */
    private void warmUp(Path folder, String service, Connection db) throws Exception {
        Path csv = folder.resolve("warm.csv");
        Files.writeString(csv, calls(WARM_RECORDS));
        source(csv);
        connection(service);
        long flow = flow(WARM_PARALLEL);
        HandWritten jdks = said(HandWritten.withTheJdks());
        HandWritten same = said(HandWritten.withOurs(WARM_PARALLEL));
        for (int i = 0; i < WARM_TURNS; i++) {
            truncate(db);
            jdks.run(csv, service + "/tidedesk", WARM_PARALLEL, db);
            truncate(db);
            same.run(csv, service + "/tidedesk", WARM_PARALLEL, db);
            truncate(db);
            run(flow, WARM_RECORDS);
        }
    }

    private void connection(String service) throws Exception {
        send(
                "PUT",
                "/api/connections/tide",
                "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + service
                        + "/tidedesk\",\"parallel\":64}},\"settings\":{"
                        + (hasToken ? "\"user\":\"agency\",\"secret\":\"tide\",\"token\":\"text\"" : "")
                        + "},\"secrets\":{" + (hasToken ? "\"tide\":\"sole\"" : "") + "}}");
    }

    private HandWritten said(HandWritten by) {
        return hasToken ? by.withToken() : by;
    }

    private void compare(Path folder, String service, int delay, int parallel, int records, Connection db, int rounds)
            throws Exception {
        Path csv = folder.resolve("calls-" + records + ".csv");
        Files.writeString(csv, calls(records));
        source(csv);
        connection(service);
        long flow = flow(parallel);
        HandWritten jdks = said(HandWritten.withTheJdks());
        HandWritten same = said(HandWritten.withOurs(parallel));
        List<Double> theirs = new ArrayList<>();
        List<Double> theirsWithOurs = new ArrayList<>();
        List<Double> ours = new ArrayList<>();
        List<Double> ratios = new ArrayList<>();
        for (int round = 0; round <= rounds; round++) {
            truncate(db);
            double j = records / jdks.run(csv, service + "/tidedesk", parallel, db);
            truncate(db);
            double s = records / same.run(csv, service + "/tidedesk", parallel, db);
            truncate(db);
            double w = records / run(flow, records);
            if (round > 0) {
                theirs.add(j);
                theirsWithOurs.add(s);
                ours.add(w);
                ratios.add(w / Math.max(j, s));
            }
        }
        StringBuilder all = new StringBuilder();
        ratios.forEach(r -> all.append(String.format(Locale.ROOT, "%.2f ", r)));
        System.out.printf(
                Locale.ROOT,
                "%-9s %-9d %-9d %12.0f %12.0f %14.0f %8.2f   %s%n",
                delay == 0 ? "at once" : delay + " ms",
                parallel,
                records,
                median(theirs),
                median(theirsWithOurs),
                median(ours),
                median(ratios),
                all);
    }

    /** Whether time grows with the number of records only: a tenth of a million, then a million, in the same 512 MB. */
    private void longRun(Path folder, String service, Connection db) throws Exception {
        connection(service);
        for (int records : new int[] {100_000, 100_000, 1_000_000}) {
            Path csv = folder.resolve("long.csv");
            Files.writeString(csv, calls(records));
            source(csv);
            truncate(db);
            double seconds = run(flow(16), records);
            System.out.printf(
                    Locale.ROOT, "%,d records in %.1f s: %,.0f a second%n", records, seconds, records / seconds);
        }
    }

    /** Whether answers of 5 MB each are worked on in 512 MB, whatever the calls at a time. */
    private void largeAnswers(Path folder, Connection db) throws Exception {
        try (LargeAnswers service = new LargeAnswers()) {
            connection(service.url());
            for (int[] c : new int[][] {{100, 4}, {2_000, 4}, {500, 16}}) {
                Path csv = folder.resolve("large.csv");
                Files.writeString(csv, calls(c[0]));
                source(csv);
                truncate(db);
                double seconds = run(flow(c[1], "$reply/window[1]"), c[0]);
                System.out.printf(
                        Locale.ROOT,
                        "%,d answers of 5 MB, %d at a time: %.1f s, %.1f MB a second%n",
                        c[0],
                        c[1],
                        seconds,
                        5 * c[0] / seconds);
            }
        }
    }

    /** Three calls for each of the ten parts of a record, the answers collected, beside the same by hand. */
    private void split(Path folder, String service, Connection db, int rounds) throws Exception {
        int records = 300;
        int parallel = 16;
        Path csv = folder.resolve("split.csv");
        Files.writeString(csv, calls(records));
        source(csv);
        connection(service);
        long flow = splitFlow(parallel);
        HandWritten same = said(HandWritten.withOurs(parallel));
        List<Double> ratios = new ArrayList<>();
        for (int round = 0; round <= rounds; round++) {
            truncate(db);
            double hand = same.run(csv, service + "/tidedesk", parallel, db, PARTS, 3);
            truncate(db);
            double ours = run(flow, records);
            if (rows(db) != records * PARTS) {
                throw new IllegalStateException("not all rows are written: " + rows(db));
            }
            if (round > 0) {
                ratios.add(hand / ours);
                System.out.printf(
                        Locale.ROOT,
                        "%,d calls in 20 ms, %d at a time: by hand %.2f s, wire kettle %.2f s, ratio %.2f%n",
                        3 * PARTS * records,
                        parallel,
                        hand,
                        ours,
                        hand / ours);
            }
        }
        System.out.printf(Locale.ROOT, "median ratio %.2f%n", median(ratios));
    }

    private static long rows(Connection db) throws Exception {
        try (Statement s = db.createStatement();
                var r = s.executeQuery("SELECT count(*) FROM harbour.tide_window")) {
            r.next();
            return r.getLong(1);
        }
    }

    private static double median(List<Double> values) {
        return values.stream().sorted().skip(values.size() / 2).findFirst().orElseThrow();
    }

    private static void truncate(Connection db) throws Exception {
        try (Statement s = db.createStatement()) {
            s.execute("TRUNCATE harbour.tide_window");
        }
        if (!db.getAutoCommit()) {
            db.commit();
        }
    }

    private static String calls(int records) {
        StringBuilder out =
                new StringBuilder("call_ref;port;eta;etd;draft_m;vessel_name;vessel_no;call_sign;gt;agent_email\n");
        for (int i = 0; i < records; i++) {
            out.append("TR-")
                    .append(i)
                    .append(";TLWRC;02.04.2031 10:")
                    .append(String.format("%02d", i % 60))
                    .append(";03.04.2031 10:00;7.5;Grey Plover ")
                    .append(i)
                    .append(";")
                    .append(7_000_000 + i)
                    .append(";MABC1;12000;desk@gannet.example\n");
        }
        return out.toString();
    }

    private double run(long flow, int records) throws Exception {
        long run = send("POST", "/api/runs", "{\"flow\":" + flow + ",\"environment\":\"test\",\"scope\":\"all\"}")
                .get("id")
                .asLong();
        while (true) {
            JsonNode v = send("GET", "/api/runs/" + run, null);
            if (!v.get("state").asText().equals("running")) {
                if (v.get("done").asLong() != records) {
                    throw new IllegalStateException("not all done: " + v);
                }
                return v.get("workedMillis").asLong() / 1000.0;
            }
            Thread.sleep(100);
        }
    }

    private void prepare(String service, String jdbc, String user, String password, Connection db) throws Exception {
        try (Statement s = db.createStatement()) {
            s.execute("CREATE SCHEMA IF NOT EXISTS harbour");
            s.execute("CREATE TABLE IF NOT EXISTS harbour.tide_window (call_ref text NOT NULL, vessel text, opens_at"
                    + " timestamptz NOT NULL, closes_at timestamptz NOT NULL, clearance_m numeric(4,1) NOT NULL,"
                    + " asked_at timestamptz)");
        }
        send("POST", "/api/contracts", "{\"url\":\"" + service + "/tidedesk?wsdl\"}");
        send(
                "PUT",
                "/api/connections/harbour",
                "{\"kind\":\"database\",\"environments\":{\"test\":{\"url\":\"" + jdbc + "\",\"user\":\"" + user
                        + "\",\"secret\":\"harbour\"}},\"secrets\":{\"harbour\":\"" + password + "\"}}");
        send(
                "PUT",
                "/api/data/targets/windows",
                "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"harbour.tide_window\"}}");
    }

    private void source(Path csv) throws Exception {
        JsonNode file = JSON.readTree(
                exchange("POST", "/api/data/files?name=calls.csv", Files.readString(csv), "application/octet-stream")
                        .body());
        send("PUT", "/api/data/sources/calls", "{\"kind\":\"csv\",\"settings\":" + file.get("settings") + "}");
    }

    private long flow(int parallel) throws Exception {
        return flow(parallel, "$reply/window");
    }

    private long flow(int parallel, String each) throws Exception {
        String definition = """
            {"steps": [{"kind": "read", "source": "calls"},
            {"kind": "call", "contract": "TideDesk", "port": "TideDesk11", "operation": "GetTideWindow",
            "connection": "tide", "parallel": %d, "fill": [%s]},
            {"kind": "pick", "each": "%s", "columns": [{"name": "call_ref", "xpath": "$record/call_ref"},
            {"name": "vessel", "xpath": "$record/vessel_name"},
            {"name": "opens_at", "xpath": "opensAt", "type": "dateTime"}, {"name": "closes_at", "xpath": "closesAt",
            "type": "dateTime"},
            {"name": "clearance_m", "xpath": "clearance", "type": "decimal"}, {"name": "asked_at",
            "xpath": "current-dateTime()", "type": "dateTime"}]},
            {"kind": "write", "target": "windows"}]}\
            """.formatted(parallel, FILL, each);
        return send(
                        "POST",
                        "/api/flows",
                        "{\"name\":\"bulk " + System.nanoTime() + "\",\"definition\":" + definition + "}")
                .get("id")
                .asLong();
    }

    private long splitFlow(int parallel) throws Exception {
        String call = """
            {"id": "%s", "kind": "call", "contract": "TideDesk", "port": "TideDesk11", "operation": "GetTideWindow",
            "connection": "tide", "parallel": %d, "as": "%s", "fill": [""" + FILL + "]}";
        String definition = """
            {"format": 2, "steps": [{"id": "s1", "kind": "read", "source": "calls"},
            {"id": "s2", "kind": "each", "over": "1 to %d", "as": "part", "steps": [%s, %s, %s],
            "collect": {"as": "windows", "columns": [{"name": "call_ref", "xpath": "$record/call_ref"},
            {"name": "vessel", "xpath": "$record/vessel_name"},
            {"name": "opens_at", "xpath": "$first/window[1]/opensAt"},
            {"name": "closes_at", "xpath": "$first/window[1]/closesAt"},
            {"name": "clearance_m", "xpath": "$first/window[1]/clearance"},
            {"name": "asked_at", "xpath": "current-dateTime()"}]}},
            {"id": "s6", "kind": "write", "target": "windows", "from": "$windows"}]}\
            """.formatted(
                        PARTS,
                        call.formatted("s3", parallel, "first"),
                        call.formatted("s4", parallel, "second"),
                        call.formatted("s5", parallel, "third"));
        return send(
                        "POST",
                        "/api/flows",
                        "{\"name\":\"split " + System.nanoTime() + "\",\"definition\":" + definition + "}")
                .get("id")
                .asLong();
    }

    private void logIn(String password) throws Exception {
        HttpResponse<String> r = exchange(
                "POST", "/api/session", "{\"name\":\"admin\",\"password\":\"" + password + "\"}", "application/json");
        cookie = r.headers().firstValue("set-cookie").orElseThrow().split(";")[0];
    }

    private JsonNode send(String method, String path, String body) throws Exception {
        HttpResponse<String> r = exchange(method, path, body, "application/json");
        if (r.statusCode() >= 300) {
            throw new IllegalStateException(method + " " + path + ": " + r.statusCode() + " " + r.body());
        }
        return r.body().isEmpty() ? JSON.nullNode() : JSON.readTree(r.body());
    }

    private HttpResponse<String> exchange(String method, String path, String body, String type) throws Exception {
        HttpRequest.Builder b = HttpRequest.newBuilder(URI.create(server + path))
                .header("X-Wire-Kettle", "1")
                .header("Content-Type", type);
        if (cookie != null) {
            b.header("Cookie", cookie);
        }
        return http.send(
                b.method(
                                method,
                                body == null
                                        ? HttpRequest.BodyPublishers.noBody()
                                        : HttpRequest.BodyPublishers.ofString(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }
}
