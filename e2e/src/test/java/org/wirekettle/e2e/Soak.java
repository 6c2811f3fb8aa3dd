package org.wirekettle.e2e;

import com.fasterxml.jackson.databind.JsonNode;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.TimeUnit;

/**
 * Many calls over a network that resets connections, to a service that is sometimes too late: two calls a record, the
 * first not safe to repeat, the second safe. Afterwards each record has one fate, no unsafe call was sent twice, and
 * the target has the done records, each once.
 */
final class Soak {
    /** Of the pieces that the network passes on; a call is several. */
    private static final double RESETS = 0.004;

    private static final int TIMEOUT_MILLIS = 700;
    private static final int MAX_SECONDS = 900;

    private static final double ROUGH_RESETS = 0.01;
    private static final int ROUGH_LATE_OF = 50;

    private final WireKettle wk;
    private double share = RESETS;
    private int lateOf = CountingService.LATE_OF;
    final List<String> wrong = new ArrayList<>();
    int done;
    int inDoubt;
    int setAside;
    int resets;
    int late;
    int calls;

    Soak(WireKettle wk) {
        this.wk = wk;
    }

    /** {@code --calls N}: 20,000 unless it says otherwise; {@code --rough}: resets and late answers at 2 % of calls. */
    public static void main(String[] args) throws Exception {
        int calls = 20_000;
        boolean isRough = false;
        for (int i = 0; i < args.length; i++) {
            isRough |= args[i].equals("--rough");
            calls = args[i].equals("--calls") ? Integer.parseInt(args[i + 1]) : calls;
        }
        int wrong;
        WireKettle wk = new WireKettle("soak").logIn();
        try {
            Soak soak = new Soak(wk);
            if (isRough) {
                soak.share = ROUGH_RESETS;
                soak.lateOf = ROUGH_LATE_OF;
            }
            long started = System.nanoTime();
            soak.run(calls / 2);
            System.out.printf(
                    "%d calls, %d resets, %d too late: %d records done, %d in doubt, %d set aside, %d s%n",
                    soak.calls,
                    soak.resets,
                    soak.late,
                    soak.done,
                    soak.inDoubt,
                    soak.setAside,
                    TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - started));
            soak.wrong.forEach(w -> System.out.println("  " + w));
            wrong = soak.wrong.size();
            System.out.println(wrong + " wrong");
        } finally {
            wk.kill();
        }
        // Only now: an exit runs no finally, and the server would stay.
        System.exit(wrong == 0 ? 0 : 1);
    }

    private static String call(String id, boolean isSafe) {
        return "{\"id\":\"" + id + "\",\"kind\":\"call\",\"contract\":\"Counting\",\"operation\":\"Do\",\"connection\":"
                + "\"count\",\"parallel\":16,\"safeToRepeat\":" + isSafe
                + ",\"fill\":[{\"path\":\"Do/key\",\"xpath\":\"concat($record/id, '-" + id + "')\"}]}";
    }

    void run(int records) throws Exception {
        wk.execute("DROP TABLE IF EXISTS soaked; CREATE TABLE soaked (rec integer NOT NULL)");
        TideFlow.harbour(wk);
        try (CountingService service = new CountingService(2 * TIMEOUT_MILLIS, lateOf);
                ResettingProxy network = new ResettingProxy(service.port(), share, 7)) {
            wk.send("DELETE", "/api/contracts/Counting", null);
            wk.post("/api/contracts", "{\"name\":\"Counting\",\"url\":\"" + service.url() + "?wsdl\"}")
                    .expect(200);
            wk.put(
                            "/api/connections/count",
                            "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"http://127.0.0.1:"
                                    + network.port()
                                    + "/\",\"parallel\":16,\"retries\":3,\"callTimeoutMillis\":" + TIMEOUT_MILLIS
                                    + "}}}")
                    .expect(204);
            StringBuilder csv = new StringBuilder("id;x\n");
            for (int id = 1; id <= records; id++) {
                csv.append(id).append(";1\n");
            }
            TideFlow.source(wk, "soaked_numbers", csv.toString());
            wk.put(
                            "/api/data/targets/soaked",
                            "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"soaked\"}}")
                    .expect(204);
            String steps = "{\"id\":\"r\",\"kind\":\"read\",\"source\":\"soaked_numbers\"}," + call("once", false) + ","
                    + call("safe", true) + ",{\"id\":\"w\",\"kind\":\"write\",\"target\":\"soaked\",\"columns\":["
                    + "{\"name\":\"rec\",\"xpath\":\"$record/id\",\"type\":\"integer\"}]}";
            long flow = wk.post(
                            "/api/flows",
                            "{\"name\":\"Soak " + records + "\",\"definition\":{\"format\":2,\"steps\":[" + steps
                                    + "]}}")
                    .expect(200)
                    .get("id")
                    .asLong();
            long run = wk.post(
                            "/api/runs",
                            "{\"flow\":" + flow + ",\"environment\":\"test\",\"scope\":\"all\",\"pauseAfter\":0}")
                    .expect(200)
                    .get("id")
                    .asLong();
            for (int i = 0; i < MAX_SECONDS && isRunning(run); i++) {
                TimeUnit.SECONDS.sleep(1);
            }
            JsonNode view = wk.await(run);
            check(view, service, records);
            resets = network.resets();
            late = service.late();
            calls = service.total();
        }
    }

    private boolean isRunning(long run) throws Exception {
        return wk.get("/api/runs/" + run).expect(200).get("state").asText().equals("running");
    }

    private void check(JsonNode view, CountingService service, int records) throws Exception {
        done = view.get("done").asInt();
        inDoubt = view.get("inDoubt").asInt();
        setAside = view.get("setAside").asInt();
        if (!view.get("state").asText().equals("finished")
                || done + inDoubt + setAside != records
                || view.get("read").asInt() != records) {
            wrong.add("the counts do not add up: " + view);
        }
        Map<Integer, Integer> written = new HashMap<>();
        try (Connection c = wk.database();
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery("SELECT rec, count(*) FROM soaked GROUP BY rec")) {
            while (r.next()) {
                written.put(r.getInt(1), r.getInt(2));
            }
        }
        Set<Integer> waiting = new HashSet<>();
        for (int offset = 0; offset < inDoubt + setAside; offset += 1_000) {
            for (JsonNode w : wk.get("/api/runs/" + view.get("id").asLong() + "/aside?offset=" + offset)
                    .expect(200)
                    .get("records")) {
                waiting.add(w.get("number").asInt());
            }
        }
        for (int id = 1; id <= records; id++) {
            int unsafe = service.asked(id + "-once");
            int safe = service.asked(id + "-safe");
            boolean isDone = !waiting.contains(id);
            if (unsafe > 1) {
                wrong.add("the unsafe call of record " + id + " was sent " + unsafe + " times");
            }
            if (written.getOrDefault(id, 0) != (isDone ? 1 : 0)) {
                wrong.add("record " + id + (isDone ? " is done" : " waits") + " and was written "
                        + written.getOrDefault(id, 0) + " times");
            }
            if (isDone && (unsafe != 1 || safe < 1)) {
                wrong.add("record " + id + " is done, and its calls were sent " + unsafe + " and " + safe + " times");
            }
        }
    }
}
