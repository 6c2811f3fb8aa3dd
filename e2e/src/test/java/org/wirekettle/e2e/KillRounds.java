package org.wirekettle.e2e;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;

/**
 * Rounds of random flows against a counting service, in which the server, PostgreSQL or both are killed at random
 * moments. After each round: every record has one fate, no call that is not safe to repeat was sent twice, the targets
 * hold exactly what the done records wrote, and only calls that were under way are in doubt.
 */
final class KillRounds {
    private static final int RECORDS = 300;
    /** What may be under way at one moment: eight records at a time, four parts of each. */
    private static final int UNDER_WAY = 8 * 4;

    private static final int MAX_RESUMES = 60;
    /** So that even the few records of a round are shared. */
    static final Map<String, String> SHARING = Map.of("WK_SHARE_LEAST", "20");

    /** Kills and starts PostgreSQL; null when it may not be touched. */
    interface Database {
        void killAndStart() throws Exception;
    }

    /** What was found wrong in a round. */
    static final class Result {
        int lost;
        int doubled;
        int wrong;
        int inDoubt;
        int kills;
        int passes;
        final List<String> told = new ArrayList<>();

        boolean isGood() {
            return lost + doubled + wrong == 0;
        }

        private void wrong(String text) {
            wrong++;
            told.add(text);
        }
    }

    private final WireKettle wk;
    private final WireKettle second;
    private final Database postgres;

    /** @param second shares the runs; null for none */
    KillRounds(WireKettle wk, WireKettle second, Database postgres) {
        this.wk = wk;
        this.second = second;
        this.postgres = postgres;
    }

    /** {@code --seed N --rounds N --servers 1 or 2}; PostgreSQL is killed by the command in WK_KILL_POSTGRES. */
    public static void main(String[] args) throws Exception {
        long seed = number(args, "--seed", 1);
        int rounds = (int) number(args, "--rounds", 100);
        String command = System.getenv("WK_KILL_POSTGRES");
        Result all = new Result();
        WireKettle wk = new WireKettle("kills", SHARING).logIn();
        WireKettle second = number(args, "--servers", 1) > 1 ? wk.beside().logIn() : null;
        try {
            KillRounds kills = new KillRounds(wk, second, command == null ? null : () -> run(command));
            for (int i = 0; i < rounds; i++) {
                long started = System.nanoTime();
                Result r = kills.round(seed + i);
                all.lost += r.lost;
                all.doubled += r.doubled;
                all.wrong += r.wrong;
                System.out.printf(
                        "round %d seed %d: %d kills, %d passes, %d in doubt, lost %d, doubled %d, wrong %d, %d s%n",
                        i + 1,
                        seed + i,
                        r.kills,
                        r.passes,
                        r.inDoubt,
                        r.lost,
                        r.doubled,
                        r.wrong,
                        TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - started));
                r.told.forEach(t -> System.out.println("  " + t));
            }
        } finally {
            wk.kill();
            if (second != null) {
                second.kill();
            }
        }
        System.out.printf("lost %d, doubled %d, wrong %d in %d rounds%n", all.lost, all.doubled, all.wrong, rounds);
        System.exit(all.isGood() ? 0 : 1);
    }

    private static long number(String[] args, String name, long otherwise) {
        for (int i = 0; i + 1 < args.length; i++) {
            if (args[i].equals(name)) {
                return Long.parseLong(args[i + 1]);
            }
        }
        return otherwise;
    }

    private static void run(String command) throws IOException, InterruptedException {
        if (new ProcessBuilder(command).inheritIO().start().waitFor() != 0) {
            throw new IOException(command + " failed");
        }
    }

    Result round(long seed) throws Exception {
        Random random = new Random(seed * 7919);
        Result result = new Result();
        try (CountingService service = new CountingService()) {
            RandomFlow flow = new RandomFlow(seed);
            long run = begin(service, flow, seed);
            int calls = 0;
            for (int id = 1; id <= RECORDS; id++) {
                calls += flow.expected(id, RandomFlow.parts(id, seed)).calls.size();
            }
            int kills = 1 + random.nextInt(3);
            for (int i = 0; i < kills; i++) {
                // Somewhere in what is left; the calls so far say how far it is.
                int left = Math.max(10, calls - service.total());
                int enough = service.total() + 1 + random.nextInt(Math.max(1, left * 4 / 5));
                if (!waitFor(service, enough, run)) {
                    break;
                }
                kill(random);
                result.kills++;
                // With two, the other goes on by itself.
                if (second == null) {
                    resume(run);
                }
            }
            finish(run);
            check(run, flow, service, seed, result);
            result.passes = (int) wk.count("SELECT count(*) FROM run_pass WHERE run = " + run);
        }
        return result;
    }

    private long begin(CountingService service, RandomFlow flow, long seed) throws Exception {
        wk.execute("DROP TABLE IF EXISTS out_a; DROP TABLE IF EXISTS out_b;"
                + "DROP TABLE IF EXISTS out_g; CREATE TABLE out_g (rec text NOT NULL);"
                + "CREATE TABLE out_a (rec text NOT NULL, what text);"
                + "CREATE TABLE out_b (rec text NOT NULL, what text)");
        TideFlow.harbour(wk);
        wk.send("DELETE", "/api/contracts/Counting", null);
        wk.post("/api/contracts", "{\"name\":\"Counting\",\"url\":\"" + service.url() + "?wsdl\"}")
                .expect(200);
        wk.put(
                        "/api/connections/count",
                        "{\"kind\":\"soap\",\"environments\":{\"test\":{\"url\":\"" + service.url()
                                + "\",\"parallel\":8,\"retries\":2}}}")
                .expect(204);
        TideFlow.source(wk, "numbers", RandomFlow.csv(RECORDS, seed));
        for (String t : List.of("out_a", "out_b", "out_g")) {
            wk.put(
                            "/api/data/targets/" + t,
                            "{\"kind\":\"sql\",\"settings\":{\"connection\":\"harbour\",\"table\":\"" + t + "\"}}")
                    .expect(204);
        }
        long id = wk.post("/api/flows", "{\"name\":\"round " + seed + "\",\"definition\":" + flow.definition() + "}")
                .expect(200)
                .get("id")
                .asLong();
        return wk.post("/api/runs", "{\"flow\":" + id + ",\"environment\":\"test\",\"scope\":\"all\",\"pauseAfter\":0}")
                .expect(200)
                .get("id")
                .asLong();
    }

    /** @return false when the run ended before */
    private boolean waitFor(CountingService service, int calls, long run) throws Exception {
        for (int i = 0; service.total() < calls; i++) {
            TimeUnit.MILLISECONDS.sleep(2);
            if (i % 50 == 49 && !isRunning(run)) {
                return false;
            }
        }
        return true;
    }

    private boolean isRunning(long run) throws Exception {
        WireKettle.Answer a = wk.get("/api/runs/" + run);
        return a.status() == 503 || a.expect(200).get("state").asText().equals("running");
    }

    private void kill(Random random) throws Exception {
        int what = postgres == null ? random.nextInt(4) : random.nextInt(6);
        if (what <= 2) {
            WireKettle dies = second != null && random.nextBoolean() ? second : wk;
            dies.kill();
            TimeUnit.MILLISECONDS.sleep(second == null ? 0 : random.nextInt(3_000));
            dies.start();
        } else if (postgres == null) {
            wk.breakConnections();
        } else if (what <= 4) {
            postgres.killAndStart();
        } else {
            wk.kill();
            postgres.killAndStart();
            wk.start();
        }
    }

    /** The run goes on, unless it ended just now. */
    private void resume(long run) throws Exception {
        for (int i = 0; i < MAX_RESUMES; i++) {
            JsonNode view = wk.await(run);
            if (view.get("state").asText().equals("finished")
                    || wk.post("/api/runs/" + run + "/resume", "{}").status() == 204) {
                return;
            }
            TimeUnit.MILLISECONDS.sleep(200);
        }
    }

    private void finish(long run) throws Exception {
        for (int i = 0; i < MAX_RESUMES; i++) {
            if (wk.await(run).get("state").asText().equals("finished")) {
                return;
            }
            wk.post("/api/runs/" + run + "/resume", "{}");
            TimeUnit.MILLISECONDS.sleep(200);
        }
        throw new AssertionError("the run does not finish: " + wk.await(run));
    }

    private void check(long run, RandomFlow flow, CountingService service, long seed, Result result) throws Exception {
        JsonNode view = wk.get("/api/runs/" + run).expect(200);
        Map<Integer, String> fates = new HashMap<>();
        for (JsonNode r : wk.get("/api/runs/" + run + "/aside").expect(200).get("records")) {
            fates.put(r.get("number").asInt(), r.get("inDoubt").asBoolean() ? "in doubt" : "set aside");
        }
        Map<String, List<String>> a = rows("out_a");
        Map<String, List<String>> b = rows("out_b");
        int waitInGroups = groups(run, flow, service, fates, result);
        int extraDoubts = 0;
        for (int id = 1; id <= RECORDS; id++) {
            RandomFlow.Outcome expected = flow.expected(id, RandomFlow.parts(id, seed));
            String is = fates.getOrDefault(id, "done");
            String should = expected.failed == null ? "done" : expected.failed;
            if (is.equals("in doubt")) {
                result.inDoubt++;
                extraDoubts += should.equals("in doubt") ? 0 : 1;
            } else if (!is.equals(should)) {
                result.wrong("record " + id + " is " + is + " and should be " + should);
            }
            compare(id, is.equals("done") ? expected.a : List.of(), a.getOrDefault("" + id, List.of()), result);
            compare(id, is.equals("done") ? expected.b : List.of(), b.getOrDefault("" + id, List.of()), result);
            for (String key : expected.calls) {
                int times = service.asked(key);
                if (times > 1 && !flow.isSafe(key)) {
                    result.doubled++;
                    result.told.add("call " + key + " was sent " + times + " times");
                }
                if (times == 0 && is.equals("done")) {
                    result.lost++;
                    result.told.add("call " + key + " was never sent");
                }
            }
        }
        if (extraDoubts > result.kills * UNDER_WAY) {
            result.wrong(extraDoubts + " records are in doubt after " + result.kills + " kills");
        }
        long sum = view.get("done").asLong()
                + view.get("setAside").asLong()
                + view.get("inDoubt").asLong();
        if (sum != RECORDS
                || view.get("read").asLong() != RECORDS
                || view.get("done").asLong() != RECORDS - leg(fates) - waitInGroups) {
            result.wrong("the counts do not add up: " + view.get("done") + " done, " + view.get("setAside")
                    + " set aside, " + view.get("inDoubt") + " in doubt, " + fates.size() + " wait");
        }
    }

    /** Records of the source that wait. */
    private static int leg(Map<Integer, String> fates) {
        return (int) fates.keySet().stream().filter(n -> n <= RECORDS).count();
    }

    /**
     * Every record that came so far is in one group, and written once unless its group waits.
     *
     * @return records that wait in groups
     */
    private int groups(long run, RandomFlow flow, CountingService service, Map<Integer, String> fates, Result result)
            throws Exception {
        if (flow.groupKey(1) == null) {
            return 0;
        }
        Map<String, List<String>> written = query("SELECT rec, '' FROM out_g");
        Set<Integer> waiting = new HashSet<>();
        for (int number : fates.keySet()) {
            if (number > RECORDS) {
                JsonNode group = wk.get("/api/runs/" + run + "/trails/" + number)
                        .expect(200)
                        .get(0)
                        .get("group");
                group.get("numbers").forEach(n -> waiting.add(n.asInt()));
                result.inDoubt += fates.get(number).equals("in doubt") ? 1 : 0;
            }
        }
        for (int id = 1; id <= RECORDS; id++) {
            int times = written.getOrDefault("" + id, List.of()).size();
            int wanted = fates.containsKey(id) || waiting.contains(id) ? 0 : 1;
            if (times != wanted) {
                result.lost += Math.max(0, wanted - times);
                result.wrong("record " + id + " was written " + times + " times by its group instead of " + wanted);
            }
            String key = flow.groupKey(id);
            if (service.asked(key) > 1 && !flow.isSafe(key)) {
                result.doubled++;
                result.told.add("call " + key + " was sent " + service.asked(key) + " times");
            }
        }
        return waiting.size();
    }

    private static void compare(int id, List<String> expected, List<String> found, Result result) {
        List<String> wanted = expected.stream().sorted().toList();
        if (!wanted.equals(found)) {
            result.lost += Math.max(0, wanted.size() - found.size());
            result.wrong("record " + id + " wrote " + found + " and should have written " + wanted);
        }
    }

    private Map<String, List<String>> rows(String table) throws SQLException {
        return query("SELECT rec, what FROM " + table + " ORDER BY what COLLATE \"C\"");
    }

    private Map<String, List<String>> query(String query) throws SQLException {
        Map<String, List<String>> out = new TreeMap<>();
        try (Connection c = wk.database();
                Statement s = c.createStatement();
                ResultSet r = s.executeQuery(query)) {
            while (r.next()) {
                out.computeIfAbsent(r.getString(1), k -> new ArrayList<>()).add(r.getString(2));
            }
        }
        return out;
    }
}
