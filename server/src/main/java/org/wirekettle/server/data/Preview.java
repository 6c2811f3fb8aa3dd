package org.wirekettle.server.data;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.jboss.logging.Logger;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordProfile;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;

/**
 * The first records as they are now, or chosen ones.
 *
 * @param numbers of the records shown, from 1
 * @param unreadable those of them that would be set aside when they are read
 * @param more whether there are more than shown
 * @param problem why reading ended early; null when it did not
 * @param warning when the connection's account may do more than it should
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Preview(
        List<Field> fields,
        List<Tree> records,
        List<Long> numbers,
        List<Unreadable> unreadable,
        boolean more,
        @Nullable String problem,
        @Nullable String warning) {
    private static final Logger LOG = Logger.getLogger(Preview.class);
    private static final int MAX_RECORDS = 500;
    private static final int USUAL_RECORDS = 100;
    /** Looked through for chosen ones. */
    private static final long MAX_LOOKED_THROUGH = 100_000;
    /** A query that is only looked at may take so long. */
    private static final int MAX_SECONDS = 10;

    /** What more rows tell of a query's columns is not waited for any longer. */
    private static final long MAX_PROFILED_NANOS = 3_000_000_000L;

    /** A record that cannot be read as it should, and why, in words. */
    public record Unreadable(long number, String reason) {}

    /**
     * @param limit records; null for the usual number
     * @param numbers of records, with commas between them; null for the first ones
     */
    static Preview of(RecordSource opened, Integer limit, String numbers, String warning) {
        RecordSource source = opened instanceof SqlSource sql ? sql.within(MAX_SECONDS) : opened;
        int wanted = Math.max(0, Math.min(limit == null ? USUAL_RECORDS : limit, MAX_RECORDS));
        Set<Long> chosen = chosen(numbers);
        Shown shown = new Shown();
        long since = System.nanoTime();
        try (RecordSource.Stream in = source.open()) {
            int most = chosen.isEmpty() ? wanted : chosen.size();
            Node r = null;
            long n = 0;
            while (shown.records.size() < most && n < MAX_LOOKED_THROUGH && (r = in.next()) != null) {
                n++;
                if (source.isCostly() && System.nanoTime() - since > MAX_SECONDS * 1_000_000_000L) {
                    throw new IOException("the service took longer than " + MAX_SECONDS + " s; these are the first");
                }
                if (chosen.isEmpty() || chosen.contains(n)) {
                    shown.add(n, r);
                }
            }
            Node after = chosen.isEmpty() && r != null ? in.next() : null;
            boolean more = after != null;
            List<Field> fields = source.isCostly()
                    ? RecordProfile.of(shown.read)
                    : source instanceof SqlSource && chosen.isEmpty()
                            ? profiled(shown.read, after, in, since)
                            : source.fields();
            return new Preview(fields, shown.records, shown.numbers, shown.unreadable, more, null, warning);
        } catch (IOException e) {
            return new Preview(
                    List.of(), shown.records, shown.numbers, shown.unreadable, false, e.getMessage(), warning);
        }
    }

    /** The columns of a query, and what its first rows tell of them: as far as they can be read. */
    private static List<Field> profiled(List<Node> read, @Nullable Node after, RecordSource.Stream in, long since) {
        RecordProfile out = new RecordProfile();
        read.forEach(r -> out.see(r, 1));
        try {
            long n = read.size();
            for (Node r = after; r != null && n++ < RecordProfile.SAMPLED_RECORDS; r = in.next()) {
                out.see(r, n);
                if (System.nanoTime() - since > MAX_PROFILED_NANOS) {
                    break;
                }
            }
        } catch (IOException e) {
            // A row far behind those that are shown: the run that comes to it says so.
            LOG.debug("a query's rows are looked at no further: " + e.getMessage());
        }
        return out.fields(in.columns());
    }

    private static Set<Long> chosen(String numbers) {
        if (numbers == null || numbers.isBlank()) {
            return Set.of();
        }
        if (!numbers.matches("\\d{1,9}(,\\d{1,9}){0,199}")) {
            throw Wrong.input("preview.numbers", "Numbers of records have commas between them: 17,21.");
        }
        return Stream.of(numbers.split(",")).map(Long::valueOf).collect(Collectors.toSet());
    }

    /** What is shown while it is read. */
    private static final class Shown {
        private final List<Tree> records = new ArrayList<>();
        private final List<Long> numbers = new ArrayList<>();
        private final List<Unreadable> unreadable = new ArrayList<>();
        private final List<Node> read = new ArrayList<>();

        void add(long number, Node record) {
            read.add(record);
            records.add(Trees.of(record));
            numbers.add(number);
            BadRecord.reason(record).ifPresent(why -> unreadable.add(new Unreadable(number, why)));
        }
    }

    /** The last records, the last of all first. All are read for that. */
    static Preview last(RecordSource opened, Integer limit) {
        RecordSource source = opened instanceof SqlSource sql ? sql.within(MAX_SECONDS) : opened;
        int wanted = Math.max(0, Math.min(limit == null ? USUAL_RECORDS : limit, MAX_RECORDS));
        Deque<Tree> records = new ArrayDeque<>();
        long n = 0;
        boolean more = false;
        try (RecordSource.Stream in = source.open()) {
            for (Node r = in.next(); r != null; r = in.next()) {
                n++;
                records.addFirst(Trees.of(r));
                if (records.size() > wanted) {
                    records.removeLast();
                    more = true;
                }
            }
            return new Preview(
                    source.fields(), List.copyOf(records), down(n, records.size()), List.of(), more, null, null);
        } catch (IOException e) {
            return new Preview(
                    List.of(), List.copyOf(records), down(n, records.size()), List.of(), false, e.getMessage(), null);
        }
    }

    private static List<Long> down(long from, int count) {
        return LongStream.range(0, count).mapToObj(i -> from - i).toList();
    }

    static Preview nothing(String why) {
        return new Preview(List.of(), List.of(), List.of(), List.of(), false, why, null);
    }
}
