package org.wirekettle.connector;

import java.io.IOException;
import java.util.List;
import org.wirekettle.record.Node;

/** A target of which is known only when a run begins what it is, such as a file named after the run. One thread. */
public final class NamedTarget implements RecordTarget {
    private final Naming naming;
    private RecordTarget target;

    /** Makes the target of a run. */
    @FunctionalInterface
    public interface Naming {
        /** @throws IOException in words, when there is none for it */
        RecordTarget of(Pass pass) throws IOException;
    }

    public NamedTarget(Naming naming) {
        this.naming = naming;
    }

    @Override
    public void begin(Pass pass) throws IOException {
        target = naming.of(pass);
        target.begin(pass);
    }

    @Override
    public Prepared prepare(List<Node> records) throws IOException {
        return target.prepare(records);
    }

    @Override
    public void abandon() throws IOException {
        target.abandon();
    }

    @Override
    public void commit() throws IOException {
        target.commit();
    }

    @Override
    public boolean wasCommitted(String token) throws IOException {
        return target.wasCommitted(token);
    }

    @Override
    public boolean isHeldBack() {
        return target.isHeldBack();
    }

    @Override
    public void finish() throws IOException {
        target.finish();
    }

    @Override
    public void close() throws IOException {
        if (target != null) {
            target.close();
        }
    }
}
