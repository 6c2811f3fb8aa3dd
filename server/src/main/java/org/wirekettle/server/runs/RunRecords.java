package org.wirekettle.server.runs;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.xml.stream.XMLStreamException;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.FailureCode;
import org.wirekettle.flow.CallStep;
import org.wirekettle.flow.Flow;
import org.wirekettle.flow.Paths;
import org.wirekettle.flow.Step;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.run.AnsweredCall;
import org.wirekettle.run.TrailBlock;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.WayView;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.xml.XmlText;

/** The records of a run: their trails, those that wait, and finding one. */
@ApplicationScoped
public class RunRecords {
    private static final int MAX_FOUND = 50;
    private static final int MAX_ASIDES = 1_000;
    private static final int SAMPLE_VALUES = 6;
    private static final int MAX_LINES = 500;
    /** Of a page; the portion it ends in is shown whole. */
    private static final int MIN_ROWS = 200;
    /** Looked through for a page, in which a step may have written nothing. */
    private static final int MAX_PORTIONS = 200;

    /** Shown of a group. */
    private static final int MAX_MEMBERS = 500;
    /** Records named of those that made a call. */
    private static final int MAX_NAMED = 20;

    private final RunMapper rows;
    private final GatherMapper gathered;
    private final Json json;

    RunRecords(RunMapper rows, GatherMapper gathered, Json json) {
        this.rows = rows;
        this.gathered = gathered;
        this.json = json;
    }

    /**
     * Why records wait.
     *
     * @param step its id
     * @param todo about it, in words, where it is a failure of a call; null otherwise
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Reason(
            String code,
            String step,
            boolean inDoubt,
            long count,
            @Nullable String todo) {}

    /**
     * A waiting record.
     *
     * @param path of the step, with the numbers of the parts around it
     * @param half whether one target has its rows and another refused them
     * @param original the record as read, when it was mended since; otherwise null
     * @param nested whether it has fields inside fields, which are not shown
     * @param answered calls that need not be made again
     * @param records of the source that it stands for: more than one for a group
     * @param isSending whether it is being sent again
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Waiting(
            long number,
            String step,
            String path,
            boolean inDoubt,
            boolean half,
            String code,
            String reason,
            Map<String, String> record,
            @Nullable Map<String, String> original,
            boolean nested,
            int answered,
            int records,
            boolean isSending) {}

    public record Tray(List<Reason> reasons, List<Waiting> records) {}

    /**
     * One thing that happened. All from {@code status} on is null unless it was a call.
     *
     * @param path of the step, with the numbers of the parts around it
     * @param step its id
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TrailEvent(
            String path,
            String step,
            String kind,
            String title,
            long atMillis,
            long micros,
            @Nullable String text,
            Integer status,
            @Nullable String outcome,
            @Nullable String request,
            @Nullable String answer,
            @Nullable List<String[]> requestHeaders,
            @Nullable List<String[]> answerHeaders,
            @Nullable WayView way) {}

    /**
     * @param failedPath and code and reason are null for a record that is done
     * @param inGroup the number of the group that took the record; null when none did
     * @param group what it is made of; null for a record of the source
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TrailView(
            long number,
            int pass,
            long startMillis,
            String fate,
            @Nullable String failedPath,
            @Nullable String code,
            @Nullable String reason,
            Tree record,
            List<TrailEvent> events,
            List<WrittenView> written,
            List<SettledView> settled,
            @Nullable Long inGroup,
            @Nullable GroupView group) {}

    /**
     * What a group was made of.
     *
     * @param step the id of the step that gathered
     * @param records of the source in it
     * @param numbers of its members, the first of them
     */
    public record GroupView(String step, String key, int members, int records, List<Long> numbers) {}

    /** A row that the record wrote. @param step its id */
    public record WrittenView(String path, String step, String title, Map<String, String> row) {}

    /** A row that a step wrote, and the record it came from; fields inside fields are not shown. */
    public record WrittenRow(long number, Map<String, String> row) {}

    /** @param next where to go on; null after the last */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record WrittenRows(
            List<WrittenRow> rows, @Nullable Long next) {}

    /**
     * What somebody decided about the record. @param verdict {@code happened}, {@code not happened}, {@code discarded}
     */
    public record SettledView(String verdict, String reason, String by, OffsetDateTime at) {}

    /** @param reason null for a record that is done */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Found(long number, String fate, @Nullable String reason, String sample) {}

    /** @param code of the reason wanted; null for all */
    Tray tray(long run, String code, int offset) {
        List<Reason> reasons = rows.reasons(run).stream()
                .map(r -> new Reason(
                        r.code,
                        r.path,
                        r.inDoubt,
                        r.count,
                        FailureCode.of(r.code).map(FailureCode::todo).orElse(null)))
                .toList();
        List<Waiting> waiting = rows.asides(run, code, MAX_ASIDES, offset).stream()
                .map(RunRecords::waiting)
                .toList();
        return new Tray(reasons, waiting);
    }

    private static Waiting waiting(RunMapper.AsideRow a) {
        Node record = record(a.record);
        return new Waiting(
                a.number,
                Paths.step(a.path),
                a.path,
                a.inDoubt,
                a.half,
                a.code,
                a.reason,
                flat(record),
                a.original == null ? null : flat(record(a.original)),
                record.children().stream().anyMatch(c -> !c.isLeaf()),
                AnsweredCall.read(a.answers).size(),
                a.records,
                a.isSending);
    }

    static Node record(String xml) {
        try {
            return NodeXml.read(xml);
        } catch (XMLStreamException e) {
            throw new IllegalStateException("a kept record is damaged", e);
        }
    }

    static Map<String, String> flat(Node record) {
        Map<String, String> out = new LinkedHashMap<>();
        record.children().stream().filter(Node::isLeaf).forEach(c -> out.put(c.name(), c.string()));
        return out;
    }

    /** One that waits. */
    Waiting waiting(long run, long number) {
        RunMapper.AsideRow a = rows.aside(run, number);
        if (a == null) {
            throw Wrong.notFound("waiting record", number);
        }
        return waiting(a);
    }

    /**
     * A call that waiting records made, which would be made again.
     *
     * @param step its id
     * @param calls of it
     * @param isSafe whether it is marked safe to repeat
     * @param numbers of the records, the first of them
     */
    public record Answered(String step, String title, int calls, boolean isSafe, List<Long> numbers) {}

    /** What the service has answered these waiting records already. */
    List<Answered> answered(RunMapper.Row run, List<Long> numbers) {
        Flow flow = json.read(run.definition, Flow.class);
        Map<String, List<Long>> byStep = new LinkedHashMap<>();
        for (long n : numbers) {
            RunMapper.AsideRow a = rows.aside(run.id, n);
            AnsweredCall.read(a == null ? null : a.answers)
                    .forEach(c -> byStep.computeIfAbsent(Paths.step(c.path()), s -> new ArrayList<>())
                            .add(n));
        }
        List<Answered> out = new ArrayList<>();
        byStep.forEach((id, of) -> {
            Optional<Step> step = flow.step(id);
            boolean isSafe = step.isPresent()
                    && step.get().kind() instanceof CallStep c
                    && Boolean.TRUE.equals(c.safeToRepeat());
            String title = step.map(Step::title).orElse(id);
            out.add(new Answered(
                    id,
                    title,
                    of.size(),
                    isSafe,
                    of.stream().distinct().limit(MAX_NAMED).toList()));
        });
        return out;
    }

    /** What is kept of a record's latest pass. */
    static Optional<TrailBlock.Kept> kept(RunMapper rows, long run, long number) {
        return rows.trailsAround(run, number).stream()
                .flatMap(block -> TrailBlock.read(block.trails).stream())
                .filter(t -> t.number() == number)
                .findFirst();
    }

    /** What happened to a record, its latest pass first. */
    List<TrailView> trails(RunMapper.Row run, long number) {
        Titles titles = new Titles(run.definition, json);
        List<SettledView> settled = rows.settled(run.id, number).stream()
                .map(s -> new SettledView(s.verdict, s.reason, s.settledBy, s.settledAt))
                .toList();
        Grouped grouped = grouped(run.id, number);
        List<TrailView> out = new ArrayList<>();
        for (RunMapper.TrailsRow block : rows.trailsAround(run.id, number)) {
            TrailBlock.read(block.trails).stream()
                    .filter(t -> t.number() == number)
                    .forEach(t -> out.add(trail(t, block.pass, titles, settled, grouped)));
        }
        if (out.isEmpty()) {
            throw Wrong.notFound("record", number);
        }
        return out;
    }

    /** What a record has to do with groups. */
    private record Grouped(Long in, GroupView own) {}

    private Grouped grouped(long run, long number) {
        GatherMapper.GroupRow g = gathered.get(run, number);
        GroupView own = g == null
                ? null
                : new GroupView(g.step, g.key, g.members, g.records, gathered.members(run, number, MAX_MEMBERS));
        return new Grouped(gathered.groupOf(run, number), own);
    }

    /** What the steps of a run's definition are called. Earlier versions wrote their numbers into trails. */
    private static final class Titles {
        private final Map<String, Step> byId = new HashMap<>();
        private final List<String> ids;

        Titles(String definition, Json json) {
            Flow flow = json.read(definition, Flow.class);
            flow.all().forEach(s -> byId.put(s.id(), s));
            ids = flow.all()
                    .filter(s -> !s.kindName().equals("each"))
                    .map(Step::id)
                    .toList();
        }

        String path(String kept) {
            boolean isNumber = kept != null && kept.matches("\\d+");
            return isNumber ? ids.get(Math.min(ids.size() - 1, Integer.parseInt(kept))) : kept;
        }

        Optional<Step> step(String path) {
            return Optional.ofNullable(byId.get(Paths.step(path)));
        }
    }

    private static TrailView trail(
            TrailBlock.Kept t, int pass, Titles titles, List<SettledView> settled, Grouped grouped) {
        return new TrailView(
                t.number(),
                pass,
                t.startMillis(),
                t.fate().words(),
                titles.path(t.failedPath()),
                t.code(),
                t.reason(),
                Trees.of(t.record()),
                t.events().stream().map(e -> event(e, titles)).toList(),
                t.written().stream()
                        .map(w -> new WrittenView(
                                w.path(),
                                Paths.step(w.path()),
                                titles.step(w.path()).map(Step::title).orElse(""),
                                flat(w.row())))
                        .toList(),
                settled,
                grouped.in,
                grouped.own);
    }

    private static TrailEvent event(Trail.Event e, Titles titles) {
        Exchange x = e.exchange();
        boolean isCall = x != null;
        String path = titles.path(e.path());
        return new TrailEvent(
                path,
                Paths.step(path),
                titles.step(path).map(Step::kindName).orElse(""),
                titles.step(path).map(Step::title).orElse(""),
                e.atMillis(),
                e.micros(),
                isCall && x.problem() != null ? x.problem() : e.text(),
                isCall ? x.status() : null,
                isCall ? x.outcome().words() : null,
                isCall ? new String(x.request(), StandardCharsets.UTF_8) : null,
                isCall ? XmlText.decoded(x.xml()) : null,
                isCall ? x.requestHeaders() : null,
                isCall ? x.answerHeaders() : null,
                isCall ? WayView.of(x) : null);
    }

    /** What a step wrote, in the order of the records. @param from the portion to begin with */
    WrittenRows rows(long run, String step, long from) {
        List<WrittenRow> out = new ArrayList<>();
        for (long i = from; ; i++) {
            RunMapper.TrailsRow block = rows.trailsAt(run, i);
            if (block == null) {
                return new WrittenRows(out, null);
            }
            for (TrailBlock.Kept t : TrailBlock.read(block.trails)) {
                t.written().stream()
                        .filter(w -> Paths.step(w.path()).equals(step))
                        .forEach(w -> out.add(new WrittenRow(t.number(), flat(w.row()))));
            }
            if (out.size() >= MIN_ROWS || i - from >= MAX_PORTIONS) {
                return new WrittenRows(out, i + 1);
            }
        }
    }

    /** A line that a step logged. @param step its id. @param number of the record */
    public record Line(long id, long number, OffsetDateTime at, String level, String step, String path, String text) {}

    /** @param after only later ones; 0 for the first. @param text in it; null for all. @param number null for all */
    List<Line> lines(long run, long after, String text, Long number) {
        return rows.lines(run, after, text == null || text.isBlank() ? null : text.strip(), number, MAX_LINES).stream()
                .map(l -> new Line(l.id, l.number, l.at, l.level, Paths.step(l.path), l.path, l.text))
                .toList();
    }

    /** Records in which a text occurs: in their fields, requests or answers. */
    List<Found> find(long run, String text) {
        Map<Long, Found> found = new LinkedHashMap<>();
        for (long i = 0; found.size() < MAX_FOUND; i++) {
            RunMapper.TrailsRow block = rows.trailsAt(run, i);
            if (block == null) {
                break;
            }
            TrailBlock.read(block.trails).stream()
                    .filter(t -> t.contains(text))
                    .limit(MAX_FOUND - found.size())
                    .forEach(t -> found.put(t.number(), found(t)));
        }
        return List.copyOf(found.values());
    }

    private static Found found(TrailBlock.Kept t) {
        List<String> sample =
                flat(t.record()).values().stream().limit(SAMPLE_VALUES).toList();
        return new Found(t.number(), t.fate().words(), t.reason(), String.join(" · ", sample));
    }
}
