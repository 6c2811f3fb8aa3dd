package org.wirekettle.run;

import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Mask;
import org.wirekettle.flow.Calls;
import org.wirekettle.flow.Failure;
import org.wirekettle.record.Node;
import org.wirekettle.run.RunInput.Numbered;

/**
 * Makes one record's calls and remembers each: what was answered is not asked again, what may have been sent is sent
 * again only when that is safe. Parts of the record may call beside each other.
 */
final class JournalledCalls implements Calls {
    private static final System.Logger LOG = System.getLogger(JournalledCalls.class.getName());

    private static final int HTTP_OK = 200;

    private final Journal journal;
    private final OnceARun once;
    private final SharedAnswers shared;
    private final MemoryBudget.Share memory;
    private final long position;
    private final Numbered record;
    private final boolean isUnproven;
    private final Journal.Begun begun;
    /** Earlier versions knew a call by how many the record had made before. */
    private final AtomicInteger made = new AtomicInteger();
    /** What was written to the journal, so that the trail need not write it again. */
    private final Map<Exchange, byte[]> written = new IdentityHashMap<>(4);
    /** Answers that are shared with other records; usually none. */
    private final Map<Exchange, SharedAnswers.Key> sharedKeys = new IdentityHashMap<>(0);

    /** @param isUnproven whether the record may have been begun without this journal knowing of it */
    JournalledCalls(
            Journal journal,
            OnceARun once,
            SharedAnswers shared,
            MemoryBudget.Share memory,
            long position,
            Numbered record,
            boolean isUnproven,
            Clock clock) {
        this.journal = journal;
        this.once = once;
        this.shared = shared;
        this.memory = memory;
        this.position = position;
        this.record = record;
        this.isUnproven = isUnproven;
        this.begun = journal.begun(position)
                .orElseGet(() ->
                        new Journal.Begun(clock.millis(), clock.millis() * 31 + record.number() * 0x9E3779B97F4A7C15L));
    }

    Instant at() {
        return Instant.ofEpochMilli(begun.atMillis()).truncatedTo(ChronoUnit.MILLIS);
    }

    long seed() {
        return begun.seed();
    }

    @Override
    public Exchange call(String path, Call call) throws Failure {
        Exchange x = answer(path, call);
        memory.take(x);
        return x;
    }

    @Override
    public Exchange shared(String path, String step, Call call) throws Failure {
        boolean isKnown = journal.remembered(position, path).isPresent()
                || record.answered().stream().anyMatch(a -> a.path().equals(path));
        if (isKnown) {
            return call(path, call);
        }
        SharedAnswers.Key key = SharedAnswers.Key.of(step, call.digest());
        Exchange known = shared.find(key, position);
        if (known == null) {
            Exchange x = null;
            try {
                x = call(path, call);
            } finally {
                boolean isGood = x != null && x.status() == HTTP_OK && x.outcome() == Exchange.Outcome.ANSWERED;
                shared.ended(key, position, isGood ? x : null);
            }
            note(x, key);
            return x;
        }
        // Whoever works on the record again decides by the same answer.
        Exchange used = call.remembered(known);
        journal.ended(position, path, ExchangeBytes.write(used));
        memory.take(used);
        note(used, key);
        return used;
    }

    private void note(Exchange x, SharedAnswers.Key key) {
        synchronized (sharedKeys) {
            sharedKeys.put(x, key);
        }
    }

    @Override
    public boolean isShared(Exchange x) {
        synchronized (sharedKeys) {
            return sharedKeys.containsKey(x) && !wasMade(x);
        }
    }

    @Override
    public void unshare(Exchange x) {
        synchronized (sharedKeys) {
            SharedAnswers.Key key = sharedKeys.get(x);
            if (key != null) {
                shared.forget(key, x);
            }
        }
    }

    private Exchange answer(String path, Call call) throws Failure {
        String oldKey = OldJournal.key(made.getAndIncrement());
        byte[] digest = call.digest();
        Optional<Journal.Remembered> known =
                journal.remembered(position, path).or(() -> journal.remembered(position, oldKey));
        Exchange used = known.isPresent() ? used(known.get(), call, digest) : null;
        if (used == null && known.isEmpty()) {
            used = answered(path, oldKey, call, digest);
            if (used == null && isUnproven && !call.isSafeToRepeat()) {
                throw Failure.unknown(
                        "it may have been sent before the machine stopped; what was noted of it then is lost");
            }
        }
        if (used != null) {
            return used;
        }
        journal.sending(position, path, begun, digest);
        Exchange x = made(call);
        byte[] bytes = ExchangeBytes.write(x);
        journal.ended(position, path, bytes);
        synchronized (written) {
            written.put(x, bytes);
        }
        return x;
    }

    /** What may be kept of one of the record's exchanges. */
    byte[] shown(Exchange x) {
        if (x.mask() != Mask.NONE) {
            Exchange shown = x.shown();
            if (!x.isLike(shown)) {
                return ExchangeBytes.write(shown);
            }
        }
        byte[] known;
        synchronized (written) {
            known = written.get(x);
        }
        return known != null ? known : ExchangeBytes.write(x);
    }

    /** @return null when the call is to be sent */
    private static Exchange used(Journal.Remembered r, Call call, byte[] digest) throws Failure {
        if (r.digest() != null && r.digest().length > 0 && isOther(r.digest(), call, digest)) {
            throw Failure.of(
                    "another request",
                    "it would send something else than before the run was interrupted; what was sent then is known");
        }
        Exchange x = r.exchange();
        boolean isKnown = x != null && x.outcome() != Exchange.Outcome.IN_DOUBT;
        if (isKnown) {
            return call.remembered(x);
        }
        if (call.isSafeToRepeat()) {
            return null;
        }
        if (x == null) {
            throw Failure.unknown(
                    "it was being sent when the run was interrupted; whether the service got it is not known");
        }
        return call.remembered(x);
    }

    /** Whether what was sent is not what would be sent now. */
    private static boolean isOther(byte[] sent, Call call, byte[] digest) {
        return !Arrays.equals(sent, digest) && !Arrays.equals(sent, call.wholeDigest());
    }

    /** What is known from the last time the record was worked on. @return null when it is to be sent */
    private Exchange answered(String path, String oldKey, Call call, byte[] digest) throws Failure {
        for (AnsweredCall a : record.answered()) {
            if (a.path().equals(path) || a.path().equals(oldKey)) {
                if (record.isChanged() && a.digest().length > 0 && isOther(a.digest(), call, digest)) {
                    throw Failure.of(
                            "already answered",
                            "the service has answered this record's request already; as it is mended, it would be"
                                    + " another request. Choose to call again if that is meant.");
                }
                return call.remembered(a.exchange());
            }
        }
        return null;
    }

    /** Whatever breaks while a call is made, the service may have got it. */
    static Exchange made(Call call) throws Failure {
        try {
            return call.make();
        } catch (RuntimeException | Error e) {
            LOG.log(System.Logger.Level.ERROR, "a call broke", e);
            throw Failure.unknown(
                    "the call broke (" + e.getClass().getSimpleName() + "); whether the service got it is not known");
        }
    }

    @Override
    public Exchange once(String step, Call call) throws Failure {
        return once.call(step, call);
    }

    @Override
    public void forgetOnce(String step, Exchange used) {
        once.forget(step, used);
    }

    @Override
    public boolean wasMade(Exchange x) {
        synchronized (written) {
            return written.containsKey(x);
        }
    }

    @Override
    public List<Node> value(String path, Value value) throws Failure {
        // A step's value is another thing than its call.
        String key = path + "=";
        Optional<Journal.Remembered> known = journal.remembered(position, key);
        if (known.isPresent() && known.get().isValue()) {
            return known.get().value();
        }
        List<Node> found = value.get();
        journal.value(position, key, found);
        return found;
    }
}
