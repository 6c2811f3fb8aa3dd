package org.wirekettle.server.settings;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.inject.Produces;
import jakarta.inject.Singleton;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;

/** Where calls may go: what the start says, until an administrator says otherwise. */
@ApplicationScoped
public class Outbound {
    private static final Logger LOG = Logger.getLogger(Outbound.class);
    private static final String NAME = "outbound";
    private static final int MAX_ENTRIES = 500;
    private static final int MAX_CHARS = 300;
    /** Other servers of the same project see a change so long after it was made. */
    private static final long READ_NANOS = TimeUnit.SECONDS.toNanos(2);

    private final SettingMapper rows;
    private final Json json;
    private final String atStart;
    private String known;
    private long readNanos;

    Outbound(SettingMapper rows, Json json, @ConfigProperty(name = "wk.outbound.allow") Optional<String> allow) {
        this.rows = rows;
        this.json = json;
        this.atStart = allow.orElse("");
    }

    /** An entry, see {@link org.wirekettle.call.HostPolicy#of}. @param note why it is there; null for nothing said */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record OutboundEntry(String entry, @Nullable String note) {}

    /** @param isOfStart whether they are those of the start, which nobody has changed */
    public record OutboundList(List<OutboundEntry> entries, boolean isOfStart) {}

    @Produces
    @Singleton
    HostPolicy policy() {
        return HostPolicy.following(this::list);
    }

    /** What is not known now since the database is away is as it was. */
    private synchronized String list() {
        if (known == null || System.nanoTime() - readNanos > READ_NANOS) {
            try {
                known = read().entries().stream().map(OutboundEntry::entry).collect(Collectors.joining(","));
            } catch (RuntimeException e) {
                LOG.debugf(e, "the allow-list cannot be read now");
                known = known == null ? "" : known;
            }
            readNanos = System.nanoTime();
        }
        return known;
    }

    OutboundList read() {
        String kept = rows.get(NAME);
        return kept == null
                ? new OutboundList(
                        Arrays.stream(atStart.split(","))
                                .map(String::strip)
                                .filter(e -> !e.isEmpty())
                                .map(e -> new OutboundEntry(e, null))
                                .toList(),
                        true)
                : new OutboundList(List.of(json.read(kept, OutboundEntry[].class)), false);
    }

    /** @throws Wrong when one of them is no entry */
    synchronized void change(List<OutboundEntry> entries, String by) {
        if (entries == null || entries.size() > MAX_ENTRIES) {
            throw Wrong.input("outbound.many", "The allow-list has at most " + MAX_ENTRIES + " entries.");
        }
        List<OutboundEntry> all = new ArrayList<>();
        for (OutboundEntry e : entries) {
            String text =
                    e == null || e.entry() == null ? "" : e.entry().strip().toLowerCase(Locale.ROOT);
            if (text.length() > MAX_CHARS
                    || text.contains(",")
                    || HostPolicy.of(text).list().isEmpty()) {
                throw Wrong.input(
                        "outbound.entry",
                        "“" + text
                                + "” is no entry: give a host (berths.example, berths.example:8443), all below a domain"
                                + " (.example), a network (10.20.0.0/16), or loopback, private, jdbc, listed-only.");
            }
            if (e.note() != null && e.note().length() > MAX_CHARS) {
                throw Wrong.input("outbound.note", "A note has at most " + MAX_CHARS + " characters.");
            }
            all.add(new OutboundEntry(text, e.note()));
        }
        rows.put(NAME, json.write(all), by);
        known = null;
    }
}
