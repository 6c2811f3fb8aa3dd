package org.wirekettle.server.runs;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.enterprise.context.ApplicationScoped;
import java.math.BigDecimal;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.Outline;
import org.wirekettle.run.LatencyHistogram;
import org.wirekettle.server.common.Json;

/** Runs as the pages show them. */
@ApplicationScoped
public class RunViews {
    private final RunMapper rows;
    private final Runs runs;
    private final Passes passes;
    private final Json json;

    RunViews(RunMapper rows, Runs runs, Passes passes, Json json) {
        this.rows = rows;
        this.passes = passes;
        this.runs = runs;
        this.json = json;
    }

    /**
     * A row of the run's outline.
     *
     * @param passed how often it was passed: by records, or by parts inside an each
     * @param waiting set aside here
     * @param inDoubt in doubt here
     */
    public record StepView(@JsonUnwrapped Outline.Row row, long passed, long waiting, long inDoubt) {}

    /** Of what a run was started. @param flow null when that is gone */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Beginning(
            long id,
            Long flow,
            String flowName,
            int flowVersion,
            String environment,
            String scope,
            String startedBy,
            OffsetDateTime startedAt) {}

    /**
     * @param reason why it is not running on; null when there is none
     * @param endedAt null while it runs
     * @param recordsPerSecond what it was slowed down to; 0 when nobody did
     * @param canSend whether waiting records may be sent again now
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Progress(
            String state,
            @Nullable String reason,
            boolean isStopping,
            @Nullable OffsetDateTime endedAt,
            long workedMillis,
            double recordsPerSecond,
            boolean canSend) {}

    /**
     * Records by their fate; a group counts for all of its records.
     *
     * @param gathered in groups that are not through
     * @param expected null when the source does not say
     * @param leftOut rows that were not written since they were as they were
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Counts(
            Long expected,
            long read,
            long done,
            long setAside,
            long inDoubt,
            long discarded,
            long gathered,
            long written,
            long leftOut) {}

    /** How long calls took: half of them at most so long, and so on; null while there were none. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Latency(long calls, Double halfMillis, Double ninetyMillis, Double ninetyNineMillis) {}

    /**
     * A run. On the wire its parts are one object.
     *
     * @param totals what steps added up, by name
     * @param lines how many steps have logged
     * @param changes what is no longer as it was when it began, in words
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RunView(
            @JsonUnwrapped Beginning beginning,
            @JsonUnwrapped Progress progress,
            @JsonUnwrapped Counts counts,
            @JsonUnwrapped Latency latency,
            List<StepView> steps,
            Map<String, BigDecimal> totals,
            long lines,
            List<String> changes) {
        boolean goesOn() {
            return progress.state().equals("running");
        }
    }

    /** Calls that took up to so long. */
    public record Bucket(double upToMillis, long calls) {}

    /** Records accounted for since the last point. */
    public record RatePoint(double second, long records) {}

    public record RunCharts(List<Bucket> latency, List<RatePoint> rate) {}

    /** @param whole with its steps, and with what has changed since it began */
    RunView run(RunMapper.Row r, boolean whole) {
        return new RunView(
                new Beginning(
                        r.id, r.flow, r.flowName, r.flowVersion, r.environment, r.scope, r.startedBy, r.startedAt),
                new Progress(
                        r.state,
                        r.reason,
                        r.wish != null,
                        r.endedAt,
                        Math.max(r.workedMillis, passes.activeMillis(r.id)),
                        r.recordsPerSecond,
                        r.state.equals(Passes.FINISHED) || r.beside && r.state.equals("running")),
                new Counts(
                        r.expected,
                        r.done + r.setAside + r.inDoubt + r.discarded + r.gathered,
                        r.done,
                        r.setAside,
                        r.inDoubt,
                        r.discarded,
                        r.gathered,
                        r.written,
                        r.leftOut),
                latency(r),
                whole ? steps(r) : List.of(),
                whole ? new Tally(json).totals(r.totals) : Map.of(),
                whole ? rows.countLines(r.id) : 0,
                whole && !r.state.equals("finished") ? runs.changes(r) : List.of());
    }

    private static Latency latency(RunMapper.Row r) {
        LatencyHistogram h = LatencyHistogram.read(r.latency);
        return h.total() == 0
                ? new Latency(0, null, null, null)
                : new Latency(h.total(), millis(h, 0.5), millis(h, 0.9), millis(h, 0.99));
    }

    private static double millis(LatencyHistogram latency, double share) {
        return Math.round(latency.percentileMicros(share) / 10) / 100.0;
    }

    private List<StepView> steps(RunMapper.Row r) {
        Map<String, Long> passed = new Tally(json).read(r.counts);
        List<RunMapper.ReasonRow> reasons = rows.reasons(r.id);
        return Outline.of(json.read(r.definition, Flow.class)).stream()
                .map(row -> new StepView(
                        row,
                        passed.getOrDefault(row.key(), 0L),
                        waiting(reasons, row, false),
                        waiting(reasons, row, true)))
                .toList();
    }

    private static long waiting(List<RunMapper.ReasonRow> reasons, Outline.Row row, boolean inDoubt) {
        return reasons.stream()
                .filter(r -> row.arm() == null && r.path.equals(row.step()) && r.inDoubt == inDoubt)
                .mapToLong(r -> r.count)
                .sum();
    }

    RunCharts charts(RunMapper.Row r) {
        List<Bucket> latency = LatencyHistogram.read(r.latency).buckets().stream()
                .map(b -> new Bucket(b.upToMicros() / 1000, b.count()))
                .toList();
        List<RatePoint> rate = new ArrayList<>();
        for (RunMapper.PortionRow c : rows.portions(r.id)) {
            double second = Duration.between(r.startedAt, c.recordedAt).toMillis() / 1000.0;
            rate.add(new RatePoint(second, c.records));
        }
        return new RunCharts(latency, rate);
    }
}
