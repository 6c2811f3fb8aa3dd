package org.wirekettle.server.triggers;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.Clock;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Wrong;

/** Keys of those who ask flows: made, changed, rotated, ended. What a key is, is shown once. */
@Path("/api/keys")
@Allow(Role.BUILDER)
public class KeyResource {
    private static final int MAX_TRIGGERS = 500;
    private static final double MOST_PER_SECOND = 100_000;
    private static final int MOST_HOURS = 24 * 90;

    private final KeyMapper rows;
    private final Keys keys;
    private final Json json;
    private final Caller caller;
    private final Clock clock;

    KeyResource(KeyMapper rows, Keys keys, Json json, Caller caller, Clock clock) {
        this.rows = rows;
        this.keys = keys;
        this.json = json;
        this.caller = caller;
        this.clock = clock;
    }

    /**
     * A key, without itself.
     *
     * @param triggers that it is for; null for all
     * @param today calls of the day so far, by UTC
     * @param oldUntil until when the one before it was rotated counts, too
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record KeyView(
            String name,
            @Nullable List<String> triggers,
            @Nullable Double perSecond,
            @Nullable Long perDay,
            @Nullable OffsetDateTime endsAt,
            @Nullable OffsetDateTime oldUntil,
            String createdBy,
            OffsetDateTime createdAt,
            @Nullable OffsetDateTime usedAt,
            long today) {}

    public record KeyChange(
            @Nullable List<String> triggers,
            @Nullable Double perSecond,
            @Nullable Long perDay,
            @Nullable OffsetDateTime endsAt) {
        public KeyChange {
            if (triggers != null && (triggers.stream().anyMatch(Objects::isNull) || triggers.size() > MAX_TRIGGERS)) {
                throw Wrong.malformed("A name is missing in the list, or there are more than " + MAX_TRIGGERS + ".");
            }
            if (perSecond != null && !(perSecond >= 1 && perSecond <= MOST_PER_SECOND)) {
                throw Wrong.input("key.limit", "A key may make at least one call a second, if there is a limit.");
            }
            if (perDay != null && perDay < 1) {
                throw Wrong.input("key.limit", "A key may make at least one call a day, if there is a limit.");
            }
        }
    }

    /** @param key shown now and never again */
    public record NewKey(String key) {}

    /** @param hours that the key before still counts */
    public record KeyRotation(int hours) {
        public KeyRotation {
            if (hours < 0 || hours > MOST_HOURS) {
                throw Wrong.input("key.hours", "The key before may count for 0 to " + MOST_HOURS + " hours.");
            }
        }
    }

    @GET
    @Allow(Role.VIEWER)
    public List<KeyView> list() {
        keys.save();
        return rows.list(KeyMapper.MOST).stream()
                .map(r -> new KeyView(
                        r.name,
                        keys.triggers(r),
                        r.perSecond,
                        r.perDay,
                        r.endsAt,
                        r.oldUntil,
                        r.createdBy,
                        r.createdAt,
                        r.usedAt,
                        r.today))
                .toList();
    }

    private KeyMapper.Row row(String name, KeyChange in) {
        KeyMapper.Row row = new KeyMapper.Row();
        row.name = name;
        row.triggers = in.triggers() == null ? null : json.write(in.triggers());
        row.perSecond = in.perSecond();
        row.perDay = in.perDay();
        row.endsAt = in.endsAt();
        row.createdBy = caller.name();
        return row;
    }

    @POST
    @Path("{name}")
    public NewKey create(@PathParam("name") String name, KeyChange in) {
        Names.check(name, "key.name");
        caller.note("key " + name);
        String key = keys.make();
        if (rows.create(row(name, in), Keys.digest(key)) == 0) {
            throw Wrong.conflict("key.name", "There is already a key named " + name + ".");
        }
        keys.changed();
        return new NewKey(key);
    }

    @PUT
    @Path("{name}")
    public void change(@PathParam("name") String name, KeyChange in) {
        caller.note("key " + name);
        if (rows.change(row(name, in)) == 0) {
            throw Wrong.notFound("key", name);
        }
        keys.changed();
    }

    /** Makes another one of the same name. */
    @POST
    @Path("{name}/rotate")
    public NewKey rotate(@PathParam("name") String name, KeyRotation in) {
        caller.note("key " + name + ", rotated");
        String key = keys.make();
        OffsetDateTime until =
                clock.instant().plus(Duration.ofHours(in.hours())).atOffset(ZoneOffset.UTC);
        if (rows.rotate(name, Keys.digest(key), until) == 0) {
            throw Wrong.notFound("key", name);
        }
        keys.changed();
        return new NewKey(key);
    }

    /** Ends it at once. */
    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        caller.note("key " + name);
        if (rows.delete(name) == 0) {
            throw Wrong.notFound("key", name);
        }
        keys.changed();
    }
}
