package org.wirekettle.server.runs;

import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.flow.GatherStep.Gather;
import org.wirekettle.record.Node;
import org.wirekettle.run.Member;
import org.wirekettle.run.RunInput;
import org.wirekettle.run.RunInput.Numbered;

/** Makes groups of the records that a run gathered, and hands them over as the records of a further pass. */
@ApplicationScoped
public class Gathering {
    /** Of the entries of one group, as they are kept: it is one record in memory. */
    private static final long GROUP_BYTES = 16L * 1024 * 1024;

    private static final int PAGE_GROUPS = 200;
    /** Read at once, unless one group has more. */
    private static final int PAGE_MEMBERS = 5_000;

    private final GatherMapper rows;
    private final PassMapper passes;
    private final RunMapper runs;

    Gathering(GatherMapper rows, PassMapper passes, RunMapper runs) {
        this.rows = rows;
        this.passes = passes;
        this.runs = runs;
    }

    /**
     * A pass is through: it is done, unless it is the last one, whose targets have still to be finished.
     *
     * @return whether other passes of the run are open, or follow because there are groups
     */
    boolean goesOn(long run, int pass, List<Gather> gathers) {
        return QuarkusTransaction.requiringNew().call(() -> {
            runs.lockState(run);
            List<PassMapper.Row> open = passes.open(run);
            boolean isAgain = open.stream().anyMatch(p -> p.pass == pass && p.again);
            boolean goesOn = open.stream().anyMatch(p -> p.pass != pass) || group(run, gathers, isAgain, false);
            if (goesOn) {
                passes.done(run, pass);
            }
            return goesOn;
        });
    }

    /**
     * Makes groups of what the first of these has gathered, and a pass for them that waits for its turn; in the
     * transaction there is, which holds the run.
     *
     * @param isAgain whether the run was finished once
     * @param now whether groups do not wait for records that wait
     * @return whether there is a group
     */
    boolean group(long run, List<Gather> gathers, boolean isAgain, boolean now) {
        for (int i = 0; i < gathers.size(); i++) {
            Gather g = gathers.get(i);
            int leg = i + 1;
            boolean mayGo = now || !g.waits() || !rows.isWaitedFor(run, leg);
            if (mayGo && rows.hasMembers(run, g.step())) {
                PassMapper.Row next = new PassMapper.Row();
                next.run = run;
                next.pass = passes.next(run);
                next.kind = PassMapper.GROUPS;
                next.again = isAgain;
                passes.put(next);
                rows.group(run, g.step(), leg, next.pass, g.most(), GROUP_BYTES);
                return true;
            }
        }
        return false;
    }

    /** The groups of a pass, in order. */
    RunInput groups(long run, int pass, List<Gather> gathers) {
        return new RunInput() {
            private final Deque<GatherMapper.GroupRow> page = new ArrayDeque<>();
            private final Deque<Numbered> ready = new ArrayDeque<>();
            private long after;

            @Override
            public Numbered next() {
                if (ready.isEmpty() && page.isEmpty()) {
                    page.addAll(rows.groups(run, pass, after, PAGE_GROUPS));
                }
                if (ready.isEmpty() && !page.isEmpty()) {
                    ready.addAll(read(run, gathers, some(page)));
                }
                Numbered next = ready.poll();
                after = next == null ? after : next.number();
                return next;
            }

            @Override
            public void close() {
                // pages are read whole
            }
        };
    }

    /** The next groups whose members are read at once. */
    private static List<GatherMapper.GroupRow> some(Deque<GatherMapper.GroupRow> page) {
        List<GatherMapper.GroupRow> out = new ArrayList<>();
        long members = 0;
        while (!page.isEmpty() && (out.isEmpty() || members + page.peek().members <= PAGE_MEMBERS)) {
            members += page.peek().members;
            out.add(page.poll());
        }
        return out;
    }

    private List<Numbered> read(long run, List<Gather> gathers, List<GatherMapper.GroupRow> groups) {
        Map<Long, List<Node>> entries = new HashMap<>();
        long last = groups.get(groups.size() - 1).number;
        for (GatherMapper.EntriesRow e : rows.entries(run, groups.get(0).number, last)) {
            entries.computeIfAbsent(e.group, g -> new ArrayList<>()).addAll(Member.read(e.entries));
        }
        List<Numbered> out = new ArrayList<>();
        for (GatherMapper.GroupRow g : groups) {
            Node record = gathers.get(g.leg - 1).group(g.key, entries.getOrDefault(g.number, List.of()));
            out.add(new Numbered(g.number, g.leg, g.records, record, List.of(), false));
        }
        return out;
    }
}
