package org.wirekettle.call;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What is hidden in whatever is shown of an endpoint's calls: the secrets of its settings and of fills, and the token
 * and the session that are in use. Shareable by threads.
 */
final class Hiding {
    private final Mask own;
    private final Set<String> always = new LinkedHashSet<>();
    private volatile @Nullable String token;
    private volatile @Nullable String session;
    /** The one before may still be in answers that are under way. */
    private @Nullable String sessionBefore;

    private volatile Mask mask;
    private volatile boolean isInMessages;

    /** @param own of the settings */
    Hiding(Mask own) {
        this.own = own;
        this.mask = own;
    }

    Mask mask() {
        return mask;
    }

    /** Whether something that is hidden goes inside messages, beside what the settings say. */
    boolean isInMessages() {
        return isInMessages;
    }

    /** Secrets that fills write into messages. */
    synchronized void always(List<String> secrets) {
        if (always.addAll(secrets)) {
            isInMessages = true;
            renew();
        }
    }

    /** A token that is sent from now on. */
    void token(String inUse) {
        if (!inUse.equals(token)) {
            synchronized (this) {
                token = inUse;
                renew();
            }
        }
    }

    /** A session that messages carry from now on. */
    void session(String inUse) {
        if (!inUse.equals(session)) {
            synchronized (this) {
                sessionBefore = session;
                session = inUse;
                isInMessages = true;
                renew();
            }
        }
    }

    private void renew() {
        List<String> secrets = new ArrayList<>(always);
        secrets.add(token);
        secrets.add(session);
        secrets.add(sessionBefore);
        List<Mask> all = new ArrayList<>();
        all.add(own);
        secrets.stream().filter(Objects::nonNull).forEach(s -> all.add(Mask.of(null, s)));
        mask = Mask.all(all);
    }
}
