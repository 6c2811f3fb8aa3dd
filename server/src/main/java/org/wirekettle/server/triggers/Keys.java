package org.wirekettle.server.triggers;

import com.fasterxml.jackson.core.type.TypeReference;
import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.common.Json;

/**
 * Who may ask. A key is 32 random bytes, shown once; kept is its digest, which needs no slow hash since nobody can try
 * so many. What is known of a key is looked at anew every few seconds, so that one that was ended soon is.
 */
@ApplicationScoped
public class Keys {
    static final String PREFIX = "wk_";
    /** Whoever asks what is open to all. */
    static final String ANYBODY = "anybody";

    private static final int BYTES = 32;
    private static final int MOST_REMEMBERED = 10_000;
    private static final Duration REMEMBERED = Duration.ofSeconds(3);

    private final KeyMapper rows;
    private final Json json;
    private final Clock clock;
    private final SecureRandom random = new SecureRandom();
    private final Map<String, Known> known = new ConcurrentHashMap<>();
    private final Map<Long, Used> used = new ConcurrentHashMap<>();

    Keys(KeyMapper rows, Json json, Clock clock) {
        this.rows = rows;
        this.json = json;
        this.clock = clock;
    }

    /** A key as it was a moment ago. @param row null when there is none */
    private record Known(KeyMapper.Row row, List<String> triggers, Instant at) {}

    /** How much a key was used here. */
    private static final class Used {
        private long second;
        private int inSecond;
        private LocalDate day;
        /** Of the day, not yet written down. */
        private long unsaved;
        /** Of the day, by all servers, when that was last looked at. */
        private long before;

        private Instant last;
    }

    /**
     * Whether somebody may ask.
     *
     * @param status 0 when they may; otherwise what is answered
     * @param waitSeconds until they may; 0 where waiting does not help
     */
    record Verdict(String caller, int status, String why, long waitSeconds) {
        static Verdict of(String caller) {
            return new Verdict(caller, 0, null, 0);
        }

        static Verdict refused(String caller, int status, String why) {
            return new Verdict(caller, status, why, 0);
        }
    }

    String make() {
        byte[] bytes = new byte[BYTES];
        random.nextBytes(bytes);
        return PREFIX + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    static byte[] digest(String key) {
        return sha256().digest(key.getBytes(StandardCharsets.UTF_8));
    }

    static MessageDigest sha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        }
    }

    List<String> triggers(KeyMapper.Row row) {
        return row.triggers == null ? null : json.read(row.triggers, new TypeReference<List<String>>() {});
    }

    /** All that is known of keys is looked at anew. */
    void changed() {
        known.clear();
    }

    private Known find(String key) {
        byte[] digest = digest(key);
        String name = Base64.getEncoder().encodeToString(digest);
        Instant now = clock.instant();
        Known there = known.get(name);
        if (there != null && there.at.plus(REMEMBERED).isAfter(now)) {
            return there;
        }
        KeyMapper.Row row = rows.of(digest);
        Known found = new Known(row, row == null ? null : triggers(row), now);
        if (known.size() >= MOST_REMEMBERED) {
            known.clear();
        }
        known.put(name, found);
        if (row != null) {
            Used u = used.computeIfAbsent(row.id, id -> new Used());
            synchronized (u) {
                u.before = row.today;
            }
        }
        return found;
    }

    /** Which triggers a key is for; empty when it is none. An empty list stands for all. */
    Optional<List<String>> isFor(String key) {
        KeyMapper.Row row = key == null ? null : find(key).row;
        return row == null || isOver(row)
                ? Optional.empty()
                : Optional.of(Optional.ofNullable(find(key).triggers).orElse(List.of()));
    }

    /** Who has a key for a trigger, without counting it as a call; empty where it is none, or not for that. */
    Optional<Holder> holder(String key, String trigger) {
        if (key == null) {
            return Optional.empty();
        }
        Known k = find(key);
        boolean isFor = k.row != null && !isOver(k.row) && (k.triggers == null || k.triggers.contains(trigger));
        return isFor ? Optional.of(new Holder(k.row.name, k.row.endsAt)) : Optional.empty();
    }

    /** @param until when the key ends; null for never */
    record Holder(String name, @Nullable OffsetDateTime until) {}

    /** Whether a key goes by a name. */
    boolean isNamed(String key, String name) {
        KeyMapper.Row row = find(key).row;
        return row != null && row.name.equals(name);
    }

    private boolean isOver(KeyMapper.Row row) {
        return row.endsAt != null && !row.endsAt.toInstant().isAfter(clock.instant());
    }

    /**
     * Counts a call, unless it may not be made.
     *
     * @param key as it was given; null for none
     */
    Verdict check(String key, String trigger) {
        if (key == null) {
            return Verdict.refused("without a key", 401, "Give a key: Authorization: Bearer …");
        }
        Known k = find(key);
        if (k.row == null) {
            return Verdict.refused("an unknown key", 401, "The key is not known here, or has been rotated.");
        }
        if (isOver(k.row)) {
            return Verdict.refused(k.row.name, 401, "The key has ended.");
        }
        if (k.triggers != null && !k.triggers.contains(trigger)) {
            return Verdict.refused(k.row.name, 403, "The key is not for this.");
        }
        return count(k.row);
    }

    private Verdict count(KeyMapper.Row row) {
        Instant now = clock.instant();
        LocalDate day = LocalDate.ofInstant(now, ZoneOffset.UTC);
        Used u = used.computeIfAbsent(row.id, id -> new Used());
        synchronized (u) {
            if (!day.equals(u.day)) {
                u.before = u.day == null ? row.today : 0;
                u.unsaved = u.day == null ? u.unsaved : 0;
                u.day = day;
            }
            if (row.perDay != null && u.before + u.unsaved >= row.perDay) {
                long left = Duration.between(now, day.plusDays(1).atStartOfDay().toInstant(ZoneOffset.UTC))
                        .toSeconds();
                return new Verdict(
                        row.name, 429, "The key has made its " + row.perDay + " calls of the day.", left + 1);
            }
            if (u.second != now.getEpochSecond()) {
                u.second = now.getEpochSecond();
                u.inSecond = 0;
            }
            if (row.perSecond != null && u.inSecond >= Math.max(1, row.perSecond)) {
                return new Verdict(row.name, 429, "The key may make " + plain(row.perSecond) + " calls a second.", 1);
            }
            u.inSecond++;
            u.unsaved++;
            u.last = now;
        }
        return Verdict.of(row.name);
    }

    private static String plain(double number) {
        return number == Math.rint(number) ? String.valueOf((long) number) : String.valueOf(number);
    }

    /** Writes down what was counted since the last time. */
    void save() {
        Map<Long, Used> now = new HashMap<>(used);
        now.forEach((key, u) -> {
            long calls;
            LocalDate day;
            Instant last;
            synchronized (u) {
                calls = u.unsaved;
                day = u.day;
                last = u.last;
            }
            if (calls > 0) {
                rows.count(key, day, calls);
                rows.used(key, last.atOffset(ZoneOffset.UTC));
                synchronized (u) {
                    u.unsaved -= day.equals(u.day) ? calls : 0;
                    u.before += day.equals(u.day) ? calls : 0;
                }
            }
        });
    }

    void forget() {
        rows.forgetDays();
    }
}
