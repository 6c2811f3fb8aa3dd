package org.wirekettle.call;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/**
 * What is hidden in whatever is shown of an endpoint's calls: the secrets of its settings and of fills, and the tokens
 * and sessions that are in use. Shareable by threads.
 */
final class Hiding {
    /** So many of the tokens and sessions used last: an answer that is under way may still hold an older one. */
    private static final int MAX_IN_USE = 8;

    private final Mask own;
    private final Set<String> always = new LinkedHashSet<>();
    private final List<String> inUse = new ArrayList<>();

    /** Replaced as a whole: who sees that a value is known has its mask too. */
    private volatile State state;

    /** @param known the values in use that the mask hides */
    private record State(Set<String> known, Mask mask, boolean isInMessages) {}

    /** @param own of the settings */
    Hiding(Mask own) {
        this.own = own;
        this.state = new State(Set.of(), own, false);
    }

    Mask mask() {
        return state.mask;
    }

    /** Whether something that is hidden goes inside messages, beside what the settings say. */
    boolean isInMessages() {
        return state.isInMessages;
    }

    /** Secrets that fills write into messages. */
    synchronized void always(List<String> secrets) {
        if (always.addAll(secrets)) {
            renew(true);
        }
    }

    /** A token that is sent from now on. */
    void token(String value) {
        use(value, false);
    }

    /** A session that messages carry from now on. */
    void session(String value) {
        use(value, true);
    }

    private void use(String value, boolean isInMessages) {
        if (state.known.contains(value)) {
            return;
        }
        synchronized (this) {
            if (!inUse.contains(value)) {
                inUse.add(value);
                if (inUse.size() > MAX_IN_USE) {
                    inUse.remove(0);
                }
                renew(isInMessages);
            }
        }
    }

    private void renew(boolean isInMessages) {
        List<Mask> all = new ArrayList<>();
        all.add(own);
        always.forEach(s -> all.add(Mask.of(null, s)));
        inUse.forEach(s -> all.add(Mask.of(null, s)));
        state = new State(Set.copyOf(inUse), Mask.all(all), isInMessages || state.isInMessages);
    }
}
