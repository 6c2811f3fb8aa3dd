package org.wirekettle.server.triggers;

import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Fate;
import org.wirekettle.record.Node;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.runs.Runs;
import org.wirekettle.server.runs.Standing;
import org.wirekettle.server.triggers.EndpointResource.TriedEndpoint;
import org.wirekettle.trigger.KeptReply;

/** What all that take things by themselves have in common: claims, counting, and trying. */
@ApplicationScoped
class Handovers {
    static final int GOOD = 200;
    static final int NOTHING = 204;
    private static final int KNOWN = 208;
    private static final int FAILED = 422;
    private static final int UNKNOWN = 504;

    private final ClaimMapper claims;
    private final TriggerMapper triggers;
    private final Traffic traffic;
    private final Runs runs;
    private final Json json;
    private final Clock clock;

    Handovers(ClaimMapper claims, TriggerMapper triggers, Traffic traffic, Runs runs, Json json, Clock clock) {
        this.claims = claims;
        this.triggers = triggers;
        this.traffic = traffic;
        this.runs = runs;
        this.json = json;
        this.clock = clock;
    }

    ClaimMapper claims() {
        return claims;
    }

    Runs runs() {
        return runs;
    }

    Instant now() {
        return clock.instant();
    }

    String write(KeptReply reply) {
        return json.write(reply);
    }

    /** @param reply as it is kept; null for none */
    @Nullable
    KeptReply reply(@Nullable String reply) {
        return reply == null ? null : json.read(reply, KeptReply.class);
    }

    /**
     * Hands things to the flow of a trigger.
     *
     * @param standing the run whose records are made
     * @param attempts how often a record is worked on until it is set aside
     */
    Handover of(TriggerMapper.Row trigger, Standing standing, int attempts, int waitSeconds) {
        return new Handover(this, trigger, standing, attempts, waitSeconds);
    }

    /** Counts what ended. @param begun in nanoseconds, see {@link System#nanoTime} */
    void count(TriggerMapper.Row trigger, String caller, boolean isGood, long begun) {
        traffic.note(
                trigger.id,
                caller,
                isGood ? GOOD : FAILED,
                isGood ? Traffic.Kind.GOOD : Traffic.Kind.FAILED,
                TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - begun));
    }

    /** Counts what came again although all was done for it. */
    void cameAgain(TriggerMapper.Row trigger, String caller) {
        traffic.note(trigger.id, caller, KNOWN, Traffic.Kind.REFUSED, 0);
    }

    /** What there is more to say of than its record does is said where the trigger is. */
    void say(TriggerMapper.Row trigger, long run, String what) {
        TriggerMapper.StartRow row = new TriggerMapper.StartRow();
        row.trigger = trigger.id;
        row.due = now().atOffset(ZoneOffset.UTC);
        row.run = run;
        row.reason = what;
        triggers.started(row);
    }

    /** Has the flow of a trigger work on a record that is made up, and waits for what comes of it. */
    TriedEndpoint tried(Live live, String sample, Node record) {
        long begun = System.nanoTime();
        try {
            Handover.Outcome o = of(live.row(), live.standing(), 1, 0).take(null, () -> record);
            if (o == null) {
                throw Wrong.conflict("endpoint.state", "There is too much to do, or this is being changed.");
            }
            String answer = o.reply() == null ? null : o.reply().json();
            return tried(sample, o.run(), o.record(), answer, Map.of(), begun);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw Wrong.conflict("endpoint.state", "The server is going down.");
        }
    }

    /**
     * What came of trying.
     *
     * @param run null while nothing is known
     * @param answer null for none
     */
    TriedEndpoint tried(
            String sample,
            @Nullable Long run,
            @Nullable Long record,
            @Nullable String answer,
            Map<String, String> headers,
            long begun) {
        Optional<TrailBlock.Kept> ended = run == null ? Optional.empty() : runs.ended(run, record);
        boolean isDone = ended.isPresent() && ended.get().fate() == Fate.DONE;
        int status = answer != null ? GOOD : ended.isEmpty() ? UNKNOWN : isDone ? NOTHING : FAILED;
        return new TriedEndpoint(
                sample,
                "",
                ended.map(e -> Trees.of(e.record())).orElse(null),
                status,
                null,
                answer != null ? answer : ended.map(TrailBlock.Kept::reason).orElse(""),
                headers,
                TimeUnit.NANOSECONDS.toMicros(System.nanoTime() - begun),
                run,
                record);
    }
}
