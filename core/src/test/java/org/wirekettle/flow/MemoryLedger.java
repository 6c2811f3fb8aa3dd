package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Keeps chunks as a database would, over several engines. */
final class MemoryLedger implements Ledger {
    private final List<Chunk> chunks = new ArrayList<>();
    private boolean confirmed = true;

    @Override
    public Optional<Unconfirmed> unconfirmed() {
        return confirmed || chunks.isEmpty()
                ? Optional.empty()
                : Optional.of(new Unconfirmed(last().number(), last().first(), last().token()));
    }

    private Chunk last() {
        return chunks.get(chunks.size() - 1);
    }

    @Override
    public long nextPosition() {
        return chunks.isEmpty() ? 0 : last().first() + last().trails().size();
    }

    @Override
    public long nextNumber() {
        return chunks.size();
    }

    @Override
    public void record(Chunk chunk) {
        assertEquals(chunk.first(), nextPosition(), "chunks follow each other without a gap");
        chunks.add(chunk);
        confirmed = chunk.token() == null;
    }

    @Override
    public void confirm() {
        confirmed = true;
    }

    @Override
    public void withdraw(Unconfirmed chunk) {
        chunks.remove(chunks.size() - 1);
        confirmed = true;
    }

    long count(Fate fate) {
        return chunks.stream()
                .flatMap(c -> c.trails().stream())
                .filter(t -> t.fate() == fate)
                .count();
    }

    List<Chunk> chunks() {
        return chunks;
    }

    void clear() {
        chunks.clear();
        confirmed = true;
    }
}
