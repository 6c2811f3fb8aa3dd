package org.wirekettle.run;

import static org.testng.Assert.assertEquals;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Failure;
import org.wirekettle.flow.Fate;

/** Keeps portions as a database would, over several engines. */
public final class MemoryLedger implements Ledger {
    private final List<Portion> portions = new ArrayList<>();
    private final Map<String, Once> once = new HashMap<>();
    private final Map<String, String> tokens = new HashMap<>();
    private boolean delivered = true;
    private long mark;
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
        tokens.clear();
        delivered = portion.deliveries().isEmpty();
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

    @Override
    public long mark() {
        return mark;
    }

    @Override
    public synchronized void raise(long to, String of) {
        mark = to;
        journal = of;
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
    public void onceSending(String step) {
        once.put(step, new Once(null));
    }

    @Override
    public void onceEnded(String step, Exchange answer) {
        once.put(step, new Once(answer));
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

    List<Portion> portions() {
        return portions;
    }

    void clear() {
        portions.clear();
        once.clear();
        tokens.clear();
        refusedLater.clear();
        delivered = true;
        mark = 0;
        journal = null;
    }
}
