package org.wirekettle.run;

import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Failure;

/**
 * Answers that records of a pass share because their requests are equal; those that were not used for longest go first.
 * Shareable by threads.
 */
final class SharedAnswers {
    static final long MAX_BYTES = 16L * 1024 * 1024;

    private final Map<Key, Slot> slots = new LinkedHashMap<>(64, 0.75f, true);
    private long bytes;

    /** @param digest of the request */
    record Key(String step, ByteBuffer digest) {
        static Key of(String step, byte[] digest) {
            return new Key(step, ByteBuffer.wrap(digest));
        }
    }

    /** A request that is being asked, or was answered. */
    private static final class Slot {
        private final long position;
        private Exchange answer;

        Slot(long position) {
            this.position = position;
        }
    }

    /**
     * Waits while a record before this one asks the same. It does not wait for one after it: that one may itself have
     * to wait until this one has ended.
     *
     * @param position of the record
     * @return null when the caller is to ask, and say by {@link #ended} what came of it
     */
    synchronized Exchange find(Key key, long position) throws Failure {
        while (true) {
            Slot s = slots.get(key);
            if (s == null) {
                slots.put(key, new Slot(position));
                return null;
            }
            if (s.answer != null || s.position > position) {
                return s.answer;
            }
            try {
                wait();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw Failure.of("interrupted", "the run was stopped while the record waited for an equal request");
            }
        }
    }

    /** @param answer null when there is none that can be shared */
    synchronized void ended(Key key, long position, Exchange answer) {
        Slot s = slots.get(key);
        if (s == null || s.answer != null || s.position != position) {
            return;
        }
        if (answer == null || answer.bytes() > MAX_BYTES) {
            slots.remove(key);
        } else {
            s.answer = answer;
            bytes += answer.bytes();
            makeRoom();
        }
        notifyAll();
    }

    /** It was no good answer; another one that was got meanwhile stays. */
    synchronized void forget(Key key, Exchange answer) {
        Slot s = slots.get(key);
        if (s != null && s.answer != null && Arrays.equals(s.answer.answer(), answer.answer())) {
            slots.remove(key);
            bytes -= s.answer.bytes();
        }
    }

    private void makeRoom() {
        Iterator<Slot> oldest = slots.values().iterator();
        while (bytes > MAX_BYTES && oldest.hasNext()) {
            Slot s = oldest.next();
            if (s.answer != null) {
                bytes -= s.answer.bytes();
                oldest.remove();
            }
        }
    }
}
