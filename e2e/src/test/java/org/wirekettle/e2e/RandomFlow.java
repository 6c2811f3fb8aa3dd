package org.wirekettle.e2e;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.wirekettle.e2e.CountingService.Verdict;

/**
 * A flow made by chance, and what must come of each record: worked out here, by rules written down a second time. Its
 * records have an id and a few parts; the key of a call names the record, the step and the part.
 */
final class RandomFlow {
    private static final String CLOSED = "fault Closed";
    private final Random random;
    private final List<Piece> pieces = new ArrayList<>();
    private final ArrayNode steps = WireKettle.JSON.createArrayNode();
    private final int[] next = {0};
    private final Set<String> safe = new HashSet<>();
    private boolean hasAnswers;
    private String groupCall;

    /** What came of a record. */
    static final class Outcome {
        /** Null while it goes on; then {@code set aside} or {@code in doubt}. */
        String failed;

        final List<String> a = new ArrayList<>();
        final List<String> b = new ArrayList<>();
        /** Keys of calls made. */
        final List<String> calls = new ArrayList<>();
    }

    /** What a step does to a record. */
    private interface Piece {
        void work(int id, int parts, Outcome out);
    }

    RandomFlow(long seed) {
        random = new Random(seed);
        ObjectNode read = step("read");
        read.put("source", "numbers");
        steps.add(read);
        ObjectNode parse = step("parse");
        parse.put("text", "parts").put("format", "json").put("as", "p");
        steps.add(parse);
        for (int n = 2 + random.nextInt(3); n > 0; n--) {
            add();
        }
        writeA();
        if (random.nextInt(2) == 0) {
            gather();
        }
    }

    /** The records' source. */
    static String csv(int records, long seed) {
        StringBuilder out = new StringBuilder("id;parts\n");
        for (int id = 1; id <= records; id++) {
            out.append(id).append(";\"{\"\"part\"\":[");
            for (int p = 1; p <= parts(id, seed); p++) {
                out.append(p == 1 ? "" : ",").append("{\"\"k\"\":").append(p).append('}');
            }
            out.append("]}\"\n");
        }
        return out.toString();
    }

    static int parts(int id, long seed) {
        return (int) Math.floorMod(id * 31L + seed, 5);
    }

    String definition() {
        ObjectNode flow = WireKettle.JSON.createObjectNode().put("format", 2);
        flow.set("steps", steps);
        return flow.toString();
    }

    Outcome expected(int id, int parts) {
        Outcome out = new Outcome();
        for (Piece p : pieces) {
            if (out.failed == null) {
                p.work(id, parts, out);
            }
        }
        if (out.failed != null) {
            out.a.clear();
            out.b.clear();
        }
        return out;
    }

    /** Whether the call with that key may be sent again. */
    boolean isSafe(String key) {
        return safe.contains(key.split("-")[1]);
    }

    /** The key of the call of a group that begins with that record; null when the flow makes no groups. */
    String groupKey(int first) {
        return groupCall == null ? null : first + "-" + groupCall;
    }

    private ObjectNode step(String kind) {
        return WireKettle.JSON.createObjectNode().put("id", "s" + ++next[0]).put("kind", kind);
    }

    private void add() {
        switch (random.nextInt(hasAnswers ? 4 : 5)) {
            case 0 -> call();
            case 1 -> attempt();
            case 2 -> branch();
            case 3 -> log();
            default -> each();
        }
    }

    private ObjectNode calling(String key) {
        ObjectNode call = step("call");
        boolean isSafe = random.nextInt(3) == 0;
        if (isSafe) {
            safe.add(call.get("id").asText());
        }
        call.put("contract", "Counting")
                .put("operation", "Do")
                .put("connection", "count")
                .put("parallel", 2 + random.nextInt(7))
                .put("safeToRepeat", isSafe);
        call.putArray("fill")
                .addObject()
                .put("path", "Do/key")
                .put("xpath", "concat($record/id, '-" + call.get("id").asText() + "'" + key + ")");
        return call;
    }

    /** Makes the call of a key as the service answers it. @return whether it went well */
    private boolean made(String key, boolean isRescued, Outcome out) {
        out.calls.add(key);
        Verdict v = CountingService.verdict(key);
        if (v == Verdict.DROP && !isSafe(key)) {
            out.failed = "in doubt";
        } else if (v == Verdict.FAULT && !isRescued) {
            out.failed = "set aside";
        }
        return v != Verdict.FAULT && out.failed == null;
    }

    private void call() {
        ObjectNode call = calling("");
        steps.add(call);
        String id = call.get("id").asText();
        pieces.add((record, parts, out) -> made(record + "-" + id, false, out));
    }

    private static void writes(ObjectNode write, String target, String what) {
        write.put("target", target);
        ArrayNode columns = write.putArray("columns");
        columns.addObject().put("name", "rec").put("xpath", "$record/id").put("type", "string");
        columns.addObject().put("name", "what").put("xpath", what).put("type", "string");
    }

    private void attempt() {
        ObjectNode attempt = step("attempt");
        ObjectNode call = calling("");
        ObjectNode write = step("write");
        writes(write, "out_b", "concat('rescued ', $failure/detail/Closed/why)");
        attempt.putArray("steps").add(call);
        ObjectNode rescue = attempt.putArray("rescues").addObject();
        rescue.putArray("codes").add(CLOSED);
        rescue.putArray("steps").add(write);
        steps.add(attempt);
        String id = call.get("id").asText();
        pieces.add((record, parts, out) -> {
            String key = record + "-" + id;
            if (!made(key, true, out) && out.failed == null) {
                out.b.add("rescued " + key);
            }
        });
    }

    private void branch() {
        ObjectNode branch = step("branch");
        ObjectNode call = calling("");
        ObjectNode write = step("write");
        writes(write, "out_b", "concat('n ', $reply/n)");
        ObjectNode arm = branch.putArray("arms").addObject().put("when", "number($record/id) mod 3 = 0");
        arm.putArray("steps").add(call).add(write);
        branch.putArray("otherwise");
        steps.add(branch);
        String id = call.get("id").asText();
        pieces.add((record, parts, out) -> {
            String key = record + "-" + id;
            if (record % 3 == 0 && made(key, false, out)) {
                out.b.add("n " + CountingService.number(key));
            }
        });
    }

    private void log() {
        ObjectNode log = step("log");
        log.put("text", "record {$record/id}");
        steps.add(log);
    }

    private void each() {
        hasAnswers = true;
        ObjectNode each = step("each");
        ObjectNode call = calling(", '-', $part/k");
        each.put("over", "$p/part").put("as", "part").put("parallel", 1 + random.nextInt(4));
        each.put("finishOthers", random.nextBoolean());
        each.putArray("steps").add(call);
        ObjectNode collect = each.putObject("collect").put("as", "answers");
        ArrayNode columns = collect.putArray("columns");
        columns.addObject().put("name", "rec").put("xpath", "$record/id").put("type", "string");
        columns.addObject()
                .put("name", "what")
                .put("xpath", "concat($part/k, ':', $reply/n)")
                .put("type", "string");
        steps.add(each);
        String id = call.get("id").asText();
        boolean finishes = each.get("finishOthers").asBoolean();
        pieces.add((record, parts, out) -> {
            String worst = null;
            for (int p = 1; p <= parts && (worst == null || finishes); p++) {
                String key = record + "-" + id + "-" + p;
                if (made(key, false, out)) {
                    out.a.add(p + ":" + CountingService.number(key));
                } else {
                    worst = worst == null || out.failed.equals("in doubt") ? out.failed : worst;
                    out.failed = null;
                }
            }
            out.failed = worst;
        });
    }

    /** Who is in a group depends on who is set aside: only rules about groups as a whole can be told beforehand. */
    private void gather() {
        ObjectNode gather = step("gather");
        gather.put("by", "number(id) mod 7").put("most", 2 + random.nextInt(20)).put("as", "member");
        gather.putArray("columns")
                .addObject()
                .put("name", "rec")
                .put("xpath", "$record/id")
                .put("type", "string");
        steps.add(gather);
        ObjectNode call = calling("");
        ((ObjectNode) call.get("fill").get(0))
                .put("xpath", "concat($member[1]/rec, '-" + call.get("id").asText() + "')");
        steps.add(call);
        groupCall = call.get("id").asText();
        ObjectNode write = step("write");
        write.put("target", "out_g").put("from", "$member");
        steps.add(write);
    }

    private void writeA() {
        ObjectNode write = step("write");
        if (hasAnswers) {
            write.put("target", "out_a").put("from", "$answers");
        } else {
            writes(write, "out_a", "'whole'");
            pieces.add((record, parts, out) -> out.a.add("whole"));
        }
        steps.add(write);
    }
}
