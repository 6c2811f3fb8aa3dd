package org.wirekettle.run;

import static org.testng.Assert.assertEquals;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.GatherStep.Gather;
import org.wirekettle.flow.Likeness;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.run.RunInput.Numbered;

/** Keeps portions as a database would, over several engines. */
public final class MemoryLedger implements Ledger {
    private final List<Portion> portions = new ArrayList<>();
    private final Map<String, Once> once = new HashMap<>();
    private final Map<String, String> tokens = new HashMap<>();
    /** Of passes before the present one. */
    private final List<Portion> earlier = new ArrayList<>();

    private final Set<Member> grouped = new HashSet<>();
    private final List<Numbered> groups = new ArrayList<>();
    private long lastGroup = 1_000;
    private boolean delivered = true;
    private long mark;
    /** Others work on what comes from there on. */
    long until = Long.MAX_VALUE;

    private String journal;
    /** What targets refused at a second delivery: the record and whether it was half written. */
    final List<String> refusedLater = new ArrayList<>();

    @Override
    public Optional<Undelivered> undelivered() {
        if (delivered || portions.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(new Undelivered(
                last().number(),
                last().deliveries().stream()
                        .map(d -> new Delivery(
                                d.target(),
                                tokens.getOrDefault(d.target(), d.token()),
                                OutputRows.read(d.rows().bytes())))
                        .toList()));
    }

    private Portion last() {
        return portions.get(portions.size() - 1);
    }

    @Override
    public long nextPosition() {
        return portions.isEmpty() ? 0 : last().first() + last().trails().size();
    }

    @Override
    public long nextNumber() {
        return portions.size();
    }

    @Override
    public void record(Portion portion) {
        assertEquals(portion.first(), nextPosition(), "portions follow each other without a gap");
        portions.add(portion);
        portion.deliveries().forEach(d -> d.rows().rows().stream()
                .filter(r -> r.likeness() != null)
                .forEach(r -> written.computeIfAbsent(d.target(), t -> new HashMap<>())
                        .put(r.likeness().key(), r.likeness().content())));
        tokens.clear();
        delivered = portion.deliveries().isEmpty();
    }

    private final Map<String, Map<Likeness.Bytes, Likeness.Bytes>> written = new HashMap<>();

    @Override
    public Map<Likeness.Bytes, Likeness.Bytes> lastWritten(
            String target, List<Likeness.Bytes> keys, boolean isHeldBack) {
        Map<Likeness.Bytes, Likeness.Bytes> out = new HashMap<>(written.getOrDefault(target, Map.of()));
        out.keySet().retainAll(keys);
        return out;
    }

    /** By what the records are. */
    Map<String, Fate> fates() {
        Map<String, Fate> out = new HashMap<>();
        portions.stream()
                .flatMap(p -> p.trails().stream())
                .forEach(t -> out.put(t.source().string(), t.fate()));
        return out;
    }

    @Override
    public boolean has(long number) {
        return portions.stream().flatMap(p -> p.trails().stream()).anyMatch(t -> t.number() == number);
    }

    @Override
    public void delivered() {
        delivered = true;
    }

    @Override
    public void deliverAgain(long number, String target, String token) {
        assertEquals(number, last().number());
        tokens.put(target, token);
    }

    @Override
    public void refusedLater(long number, String path, String reason, boolean isHalf) {
        refusedLater.add(number + " " + path + " " + reason + (isHalf ? " half" : ""));
        last().trails().stream().filter(t -> t.number() == number).forEach(t -> t.end(Failure.refused(reason, path)));
    }

    @Override
    public void withdraw(long number) {
        portions.remove((int) number);
        delivered = true;
    }

    /** Makes groups at once, whoever waits, and hands them over by {@link #groups}. */
    @Override
    public boolean goesOn(List<Gather> gathers) {
        groups.clear();
        for (int g = 0; g < gathers.size() && groups.isEmpty(); g++) {
            Gather gather = gathers.get(g);
            Map<String, List<Member>> byKey = new LinkedHashMap<>();
            portions.stream()
                    .flatMap(p -> p.members().stream())
                    .filter(m -> m.step().equals(gather.step()) && grouped.add(m))
                    .forEach(m -> byKey.computeIfAbsent(m.key(), k -> new ArrayList<>())
                            .add(m));
            int leg = g + 1;
            byKey.forEach((key, members) -> {
                for (int i = 0; i < members.size(); i += gather.most()) {
                    List<Member> own = members.subList(i, Math.min(members.size(), i + gather.most()));
                    List<Node> entries = own.stream()
                            .flatMap(m -> Member.read(m.entries()).stream())
                            .toList();
                    int records = own.stream().mapToInt(Member::records).sum();
                    groups.add(new Numbered(++lastGroup, leg, records, gather.group(key, entries), List.of(), false));
                }
            });
        }
        if (!groups.isEmpty()) {
            earlier.addAll(portions);
            portions.clear();
            mark = 0;
            journal = null;
        }
        return !groups.isEmpty();
    }

    /** The groups made last, as a further pass reads them. */
    public RunInput groups() {
        Iterator<Numbered> left = List.copyOf(groups).iterator();
        return new RunInput() {
            @Override
            public Numbered next() {
                return left.hasNext() ? left.next() : null;
            }

            @Override
            public void close() {
                // nothing was opened
            }
        };
    }

    @Override
    public Map<String, BigDecimal> totals() {
        Map<String, BigDecimal> out = new HashMap<>();
        earlier.forEach(p -> p.totals().forEach((name, value) -> out.merge(name, value, BigDecimal::add)));
        return out;
    }

    @Override
    public long mark() {
        return mark;
    }

    @Override
    public synchronized long raise(long to, String of) {
        mark = Math.min(to, until);
        journal = of;
        return mark;
    }

    @Override
    public Optional<String> journal() {
        return Optional.ofNullable(journal);
    }

    @Override
    public Optional<Once> once(String step) {
        return Optional.ofNullable(once.get(step));
    }

    @Override
    public boolean onceSending(String step) {
        once.put(step, new Once(null, false));
        return true;
    }

    @Override
    public void onceEnded(String step, Exchange answer) {
        once.put(step, new Once(answer, false));
    }

    @Override
    public void onceForgotten(String step) {
        once.remove(step);
    }

    public long count(Fate fate) {
        return portions.stream()
                .flatMap(c -> c.trails().stream())
                .filter(t -> t.fate() == fate)
                .count();
    }

    /** What happened to the records, in their order. */
    public List<Trail> trails() {
        return portions.stream().flatMap(p -> p.trails().stream()).toList();
    }

    public List<Portion> portions() {
        return portions;
    }

    void clear() {
        portions.clear();
        once.clear();
        tokens.clear();
        refusedLater.clear();
        until = Long.MAX_VALUE;
        delivered = true;
        mark = 0;
        journal = null;
    }
}
