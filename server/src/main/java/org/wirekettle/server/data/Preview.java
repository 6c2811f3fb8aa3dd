package org.wirekettle.server.data;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;

/**
 * The first records as they are now.
 *
 * @param more whether there are more than shown
 * @param problem why reading ended early; null when it did not
 * @param warning when the connection's account may do more than it should
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Preview(
        List<Field> fields,
        List<Tree> records,
        boolean more,
        @Nullable String problem,
        @Nullable String warning) {
    private static final int MAX_RECORDS = 500;
    private static final int USUAL_RECORDS = 100;
    /** A query that is only looked at may take so long. */
    private static final int MAX_SECONDS = 10;

    /** @param limit records; null for the usual number */
    static Preview of(RecordSource opened, Integer limit, String warning) {
        RecordSource source = opened instanceof SqlSource sql ? sql.within(MAX_SECONDS) : opened;
        int wanted = Math.max(0, Math.min(limit == null ? USUAL_RECORDS : limit, MAX_RECORDS));
        List<Tree> records = new ArrayList<>();
        try (RecordSource.Stream in = source.open()) {
            Node r = null;
            while (records.size() < wanted && (r = in.next()) != null) {
                records.add(Trees.of(r));
            }
            return new Preview(source.fields(), records, r != null && in.next() != null, null, warning);
        } catch (IOException e) {
            return new Preview(List.of(), records, false, e.getMessage(), warning);
        }
    }

    /** The last records, the last of all first. All are read for that. */
    static Preview last(RecordSource opened, Integer limit) {
        RecordSource source = opened instanceof SqlSource sql ? sql.within(MAX_SECONDS) : opened;
        int wanted = Math.max(0, Math.min(limit == null ? USUAL_RECORDS : limit, MAX_RECORDS));
        Deque<Tree> records = new ArrayDeque<>();
        boolean more = false;
        try (RecordSource.Stream in = source.open()) {
            for (Node r = in.next(); r != null; r = in.next()) {
                records.addFirst(Trees.of(r));
                if (records.size() > wanted) {
                    records.removeLast();
                    more = true;
                }
            }
            return new Preview(source.fields(), List.copyOf(records), more, null, null);
        } catch (IOException e) {
            return new Preview(List.of(), List.copyOf(records), false, e.getMessage(), null);
        }
    }

    static Preview nothing(String why) {
        return new Preview(List.of(), List.of(), false, why, null);
    }
}
