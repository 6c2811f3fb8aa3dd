package org.wirekettle.server.runs;

import java.time.OffsetDateTime;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A run that ended, as others are told of it.
 *
 * @param isWhole whether it came to its end
 * @param file that it wrote; null for none
 */
public record EndedRun(
        RunMapper.Row row, boolean isWhole, @Nullable String file) {
    public long id() {
        return row.id;
    }

    public OffsetDateTime at() {
        return row.endedAt;
    }

    /** Whether records wait for somebody. */
    public boolean hasAside() {
        return row.setAside + row.inDoubt > 0;
    }

    /** What is known of it, as text. @param outcome in words */
    public Map<String, String> known(String outcome) {
        Map<String, String> out = new LinkedHashMap<>();
        out.put("run", String.valueOf(row.id));
        out.put("flow", row.flowName);
        out.put("environment", row.environment);
        out.put("outcome", outcome);
        out.put("reason", row.reason);
        out.put("started_by", row.startedBy);
        out.put("started", row.startedAt.toInstant().toString());
        out.put("ended", row.endedAt.toInstant().toString());
        out.put("read", String.valueOf(row.done + row.setAside + row.inDoubt + row.discarded + row.gathered));
        out.put("done", String.valueOf(row.done));
        out.put("set_aside", String.valueOf(row.setAside));
        out.put("in_doubt", String.valueOf(row.inDoubt));
        out.put("discarded", String.valueOf(row.discarded));
        out.put("totals", row.totals);
        out.put("file", file);
        return out;
    }
}
