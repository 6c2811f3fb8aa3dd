package org.wirekettle.server.triggers;

import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.time.Clock;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.flows.FlowMapper;
import org.wirekettle.trigger.Schedule;

/** What starts flows by themselves. */
@Path("/api/triggers")
@Allow(Role.BUILDER)
public class TriggerResource {
    private static final int SHOWN_TIMES = 10;
    private static final int SHOWN_STARTS = 50;

    private final TriggerMapper rows;
    private final FlowMapper flows;
    private final Schedules schedules;
    private final Json json;
    private final Caller caller;
    private final Clock clock;

    TriggerResource(TriggerMapper rows, FlowMapper flows, Schedules schedules, Json json, Caller caller, Clock clock) {
        this.rows = rows;
        this.flows = flows;
        this.schedules = schedules;
        this.json = json;
        this.caller = caller;
        this.clock = clock;
    }

    /** @param next the next times it starts, were it on */
    public record TimesView(String words, List<OffsetDateTime> next) {}

    /** @param run null when none was started; then there is a reason */
    public record TriggerStart(
            OffsetDateTime due,
            OffsetDateTime at,
            @Nullable Long run,
            @Nullable String reason) {}

    /** @param starts the latest things it was due for */
    public record TriggerView(
            String name,
            String kind,
            long flow,
            String flowName,
            String environment,
            ScheduleSettings settings,
            boolean on,
            String changedBy,
            OffsetDateTime changedAt,
            TimesView times,
            List<TriggerStart> starts) {}

    public record TriggerChange(
            String kind,
            long flow,
            String environment,
            ScheduleSettings settings,
            @Nullable Boolean on) {
        public TriggerChange {
            kind = Wrong.required(kind, "a kind");
            environment = Wrong.required(environment, "an environment").strip();
            settings = Wrong.required(settings, "settings");
        }
    }

    public record TriggerTurn(boolean on) {}

    /** Of each the next time, and the latest thing it was due for. */
    @GET
    @Allow(Role.VIEWER)
    public List<TriggerView> list() {
        return rows.list(Schedules.KIND, TriggerMapper.MOST).stream()
                .map(r -> view(r, 1, 1))
                .toList();
    }

    @GET
    @Path("{name}")
    @Allow(Role.VIEWER)
    public TriggerView get(@PathParam("name") String name) {
        return view(row(name), SHOWN_TIMES, SHOWN_STARTS);
    }

    @PUT
    @Path("{name}")
    public TriggerView put(@PathParam("name") String name, TriggerChange in) {
        Names.check(name, "trigger.name");
        Names.check(in.environment(), "trigger.environment");
        if (!in.kind().equals(Schedules.KIND)) {
            throw Wrong.input("trigger.kind", "A trigger is a schedule, not “" + in.kind() + "”.");
        }
        in.settings().schedule();
        TriggerMapper.Row there = rows.named(name);
        if (there != null && !there.kind.equals(Schedules.KIND)) {
            throw Wrong.conflict("trigger.name", "There is something else published by the name " + name + ".");
        }
        if (flows.get(in.flow()) == null) {
            throw Wrong.notFound("flow", in.flow());
        }
        TriggerMapper.Row row = new TriggerMapper.Row();
        row.name = name;
        row.kind = in.kind();
        row.flow = in.flow();
        row.environment = in.environment();
        row.settings = json.write(in.settings());
        row.on = !Boolean.FALSE.equals(in.on());
        row.changedBy = caller.name();
        caller.note(row.kind + " " + name + (row.on ? "" : ", paused"));
        row.id = rows.put(row);
        schedules.plan(row);
        return get(name);
    }

    /** Pauses it, or has it go on: times that were meanwhile are not made up for. */
    @POST
    @Path("{name}/turn")
    @Allow(Role.OPERATOR)
    public TriggerView turn(@PathParam("name") String name, TriggerTurn in) {
        TriggerMapper.Row row = row(name);
        caller.note(row.kind + " " + name + (in.on() ? " goes on" : " pauses"));
        rows.turn(row.id, in.on(), caller.name());
        schedules.plan(row(name));
        return get(name);
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        TriggerMapper.Row row = row(name);
        caller.note(row.kind + " " + name);
        rows.delete(row.id);
        schedules.forget(row.id);
    }

    /** What a schedule comes to while it is typed. */
    @POST
    @Path("times")
    @Allow(Role.VIEWER)
    @ReadsOnly
    public TimesView times(ScheduleSettings in) {
        return times(Wrong.required(in, "a schedule").schedule(), SHOWN_TIMES);
    }

    private TimesView times(Schedule s, int most) {
        return new TimesView(
                s.words(),
                s.next(clock.instant(), most).stream()
                        .map(i -> i.atZone(s.zone()).toOffsetDateTime())
                        .toList());
    }

    private TriggerMapper.Row row(String name) {
        TriggerMapper.Row row = rows.named(name);
        if (row == null || !row.kind.equals(Schedules.KIND)) {
            throw Wrong.notFound("schedule", name);
        }
        return row;
    }

    private TriggerView view(TriggerMapper.Row r, int next, int starts) {
        ScheduleSettings settings = schedules.settings(r);
        Schedule s = settings.schedule();
        return new TriggerView(
                r.name,
                r.kind,
                r.flow,
                r.flowName,
                r.environment,
                settings,
                r.on,
                r.changedBy,
                r.changedAt,
                times(s, next),
                rows.starts(r.id, starts).stream()
                        .map(x -> new TriggerStart(
                                x.due.atZoneSameInstant(s.zone()).toOffsetDateTime(),
                                x.at.withOffsetSameInstant(ZoneOffset.UTC),
                                x.run,
                                x.reason))
                        .toList());
    }
}
