package org.wirekettle.server.runs;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.LatencyHistogram;
import org.wirekettle.flow.Step;
import org.wirekettle.server.common.Json;

/** Runs as the pages show them. */
@ApplicationScoped
public class RunViews {
    private final RunMapper rows;
    private final Runs runs;
    private final Json json;

    RunViews(RunMapper rows, Runs runs, Json json) {
        this.rows = rows;
        this.runs = runs;
        this.json = json;
    }

    /**
     * A step of the run's outline.
     *
     * @param out records that left it
     * @param waiting set aside here
     * @param inDoubt in doubt here
     */
    public record StepView(String kind, String title, long out, long waiting, long inDoubt) {}

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

    /** @param reason why it is not running on; null when there is none. @param endedAt null while it runs */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Progress(
            String state,
            @Nullable String reason,
            boolean isStopping,
            @Nullable OffsetDateTime endedAt,
            long workedMillis) {}

    /** Records by their fate. @param expected null when the source does not say */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Counts(Long expected, long read, long done, long setAside, long inDoubt, long written) {}

    /** How long calls took: half of them at most so long, and so on; null while there were none. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Latency(long calls, Double halfMillis, Double ninetyMillis, Double ninetyNineMillis) {}

    /**
     * A run. On the wire its parts are one object.
     *
     * @param changes what is no longer as it was when it began, in words
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RunView(
            @JsonUnwrapped Beginning beginning,
            @JsonUnwrapped Progress progress,
            @JsonUnwrapped Counts counts,
            @JsonUnwrapped Latency latency,
            List<StepView> steps,
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
                        runs.isStopping(r.id),
                        r.endedAt,
                        Math.max(r.workedMillis, runs.activeMillis(r.id))),
                new Counts(r.expected, r.done + r.setAside + r.inDoubt, r.done, r.setAside, r.inDoubt, r.written),
                latency(r),
                whole ? steps(r) : List.of(),
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
        List<Step> steps = json.read(r.definition, Flow.class).steps();
        long[] out = Numbers.read(r.stepOut);
        List<RunMapper.ReasonRow> reasons = rows.reasons(r.id);
        List<StepView> views = new ArrayList<>();
        for (int i = 0; i < steps.size(); i++) {
            views.add(new StepView(
                    steps.get(i).kindName(),
                    steps.get(i).title(),
                    i < out.length ? out[i] : 0,
                    waiting(reasons, i, false),
                    waiting(reasons, i, true)));
        }
        return views;
    }

    private static long waiting(List<RunMapper.ReasonRow> reasons, int step, boolean inDoubt) {
        return reasons.stream()
                .filter(r -> r.step == step && r.inDoubt == inDoubt)
                .mapToLong(r -> r.count)
                .sum();
    }

    RunCharts charts(RunMapper.Row r) {
        List<Bucket> latency = LatencyHistogram.read(r.latency).buckets().stream()
                .map(b -> new Bucket(b.upToMicros() / 1000, b.count()))
                .toList();
        List<RatePoint> rate = new ArrayList<>();
        for (RunMapper.ChunkRow c : rows.chunks(r.id)) {
            double second = Duration.between(r.startedAt, c.recordedAt).toMillis() / 1000.0;
            rate.add(new RatePoint(second, c.records));
        }
        return new RunCharts(latency, rate);
    }
}
