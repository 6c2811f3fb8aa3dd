package org.wirekettle.server.connections;

import com.fasterxml.jackson.core.type.TypeReference;
import io.quarkus.runtime.StartupEvent;
import jakarta.annotation.Priority;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.common.Wrong;

/**
 * Secrets by name: encrypted, and never told again. Each goes only to the places it was given for; whoever wants it to
 * go to another one gives its value again.
 */
@ApplicationScoped
public class SecretStore {
    private static final Logger LOG = Logger.getLogger(SecretStore.class);
    /** Before all others. */
    private static final String FIRST_PLACE = "(0,0)";

    private static final int MAX_SECRETS = 1_000;
    private static final int MAX_CHARS = 20_000;
    private static final int MAX_PLACES = 50;

    private final SecretMapper rows;
    private final Secrets secrets;
    private final Json json;
    private final Caller caller;

    SecretStore(SecretMapper rows, Secrets secrets, Json json, Caller caller) {
        this.rows = rows;
        this.secrets = secrets;
        this.json = json;
        this.caller = caller;
    }

    /** What is sealed with an older key is sealed with today's, so that the older one can be taken away. */
    void start(@Observes @Priority(1) StartupEvent event) {
        int anew = 0;
        int lost = 0;
        // A few at a time: answers of runs that are kept may be many, and large.
        for (Map.Entry<String, String> column : SecretMapper.SEALED.entrySet()) {
            List<SecretMapper.Sealed> some = rows.sealed(column.getKey(), column.getValue(), FIRST_PLACE);
            while (!some.isEmpty()) {
                for (SecretMapper.Sealed s : some) {
                    int sealed = sealedAnew(column, s);
                    anew += Math.max(0, sealed);
                    lost -= Math.min(0, sealed);
                }
                String last = some.get(some.size() - 1).place;
                some = rows.sealed(column.getKey(), column.getValue(), last);
            }
        }
        if (anew > 0) {
            LOG.infof("%d secrets were sealed with another key and are sealed with today's now", anew);
        }
        if (lost > 0) {
            LOG.warnf("%d secrets cannot be read with the keys that are known here; give them anew", lost);
        }
    }

    /** @return 1 when it was sealed anew, 0 when it need not be, -1 when it cannot be read */
    private int sealedAnew(Map.Entry<String, String> column, SecretMapper.Sealed s) {
        if (secrets.isCurrent(s.sealed)) {
            return 0;
        }
        try {
            return rows.seal(
                    column.getKey(), column.getValue(), s.place, s.sealed, secrets.encrypt(secrets.decrypt(s.sealed)));
        } catch (IllegalStateException e) {
            return -1;
        }
    }

    /** Whether its key is one of those known here. */
    boolean isReadable(SecretMapper.Row row) {
        return secrets.isReadable(row.sealed);
    }

    /**
     * The value.
     *
     * @param name null for none
     * @return null for none
     * @throws Wrong when there is none of that name, or it cannot be read
     */
    @Nullable
    String value(@Nullable String name) {
        if (name == null || name.isBlank()) {
            return null;
        }
        SecretMapper.Row row = rows.get(name);
        if (row == null) {
            throw Wrong.notFound("secret", name);
        }
        try {
            return secrets.decrypt(row.sealed);
        } catch (IllegalStateException e) {
            LOG.warnf("the secret %s cannot be read: %s", name, e.getMessage());
            throw Wrong.conflict(
                    "secret.unreadable",
                    "The secret " + name + " cannot be read any more: the server has another key than the one it was"
                            + " kept with. Give its value again.");
        }
    }

    /** Changes when the value does. */
    String version(Collection<String> names) {
        StringBuilder out = new StringBuilder();
        for (String n : names) {
            SecretMapper.Row row = rows.get(n);
            out.append(n).append(row == null ? 0 : java.util.Arrays.hashCode(row.sealed));
        }
        return out.toString();
    }

    List<String> places(SecretMapper.Row row) {
        return json.read(row.places, new TypeReference<List<String>>() {});
    }

    boolean exists(String name) {
        return rows.get(name) != null;
    }

    /** @return where it may go, beside where connections send it already; empty when it is not there */
    Set<String> places(String name) {
        SecretMapper.Row row = rows.get(name);
        return row == null ? Set.of() : new TreeSet<>(places(row));
    }

    /**
     * Keeps a value under a name; one that is there is replaced and goes to further places.
     *
     * @throws Wrong when it cannot be kept
     */
    void put(String name, String value, Collection<String> places) {
        Names.check(name, "secret.name");
        if (value == null || value.isEmpty()) {
            throw Wrong.input("secret.empty", "Give the value of the secret " + name + ".");
        }
        if (value.length() > MAX_CHARS) {
            throw Wrong.input("secret.long", "A secret has at most " + MAX_CHARS + " characters.");
        }
        SecretMapper.Row old = rows.lock(name);
        if (old == null && rows.count() >= MAX_SECRETS) {
            throw Wrong.input("secret.many", "There are at most " + MAX_SECRETS + " secrets; remove some first.");
        }
        Set<String> all = new TreeSet<>(places);
        if (old != null) {
            all.addAll(places(old));
        }
        if (all.size() > MAX_PLACES) {
            throw Wrong.input("secret.places", "A secret goes to at most " + MAX_PLACES + " places.");
        }
        rows.put(name, secrets.encrypt(value), json.write(all), caller.name());
    }
}
