package org.wirekettle.server.connections;

import jakarta.transaction.Transactional;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.common.Wrong;

/** Secrets by name. Values go in and never come out. */
@Path("/api/secrets")
@Allow(Role.BUILDER)
public class SecretResource {
    private static final int MAX_ADDRESS_CHARS = 2_000;

    private final SecretMapper rows;
    private final SecretStore store;
    private final Connections connections;
    private final Secrets sealing;

    SecretResource(SecretMapper rows, SecretStore store, Connections connections, Secrets sealing) {
        this.rows = rows;
        this.store = store;
        this.connections = connections;
        this.sealing = sealing;
    }

    /**
     * What may be known of a secret.
     *
     * @param places where it may be sent
     * @param usedBy in words
     */
    public record SecretView(
            String name, List<String> places, List<String> usedBy, OffsetDateTime changedAt, String changedBy) {}

    /**
     * All secrets, and the key they are encrypted with.
     *
     * @param key what it can be recognised by; it cannot be had from that
     * @param olderKeys how many others are known to the server: they are needed no more
     * @param unreadable how many cannot be read with any of them
     */
    public record SecretsView(List<SecretView> secrets, String key, int olderKeys, int unreadable) {}

    /**
     * @param place an address that it is for; null for none
     * @param connection the name of one over which messages may carry it, in all its environments; null for none
     */
    public record SecretGiven(
            String value, @Nullable String place, @Nullable String connection) {}

    @GET
    public SecretsView list() {
        Map<String, Set<String>> sent = connections.secretPlaces();
        List<SecretView> out = new ArrayList<>();
        int unreadable = 0;
        for (SecretMapper.Row r : rows.list()) {
            unreadable += store.isReadable(r) ? 0 : 1;
            Set<String> places = new TreeSet<>(store.places(r));
            places.addAll(sent.getOrDefault(r.name, Set.of()));
            out.add(new SecretView(r.name, List.copyOf(places), rows.usedBy(r.name), r.changedAt, r.changedBy));
        }
        return new SecretsView(out, sealing.fingerprint(), sealing.olderKeys(), unreadable);
    }

    /** Keeps a value; one that is there is replaced, for all that use it. */
    @PUT
    @Path("{name}")
    @Transactional
    public void put(@PathParam("name") String name, SecretGiven in) {
        Names.check(name, "secret.name");
        String place = in.place() == null ? "" : in.place().strip();
        if (place.length() > MAX_ADDRESS_CHARS || !place.isEmpty() && !place.matches("(?i)(https?|jdbc):.+")) {
            throw Wrong.input(
                    "secret.place", "A place is an address that begins with http://, https:// or jdbc:, or empty.");
        }
        Set<String> places = new TreeSet<>();
        if (!place.isEmpty()) {
            places.add(SecretPlaces.origin(place));
        }
        if (in.connection() != null && !in.connection().isBlank()) {
            places.addAll(connections.places(in.connection()));
        }
        store.put(name, Wrong.required(in.value(), "value"), places);
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        InUse.remove("secret", name, rows.usedBy(name), () -> rows.delete(name));
    }
}
