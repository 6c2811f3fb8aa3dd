package org.wirekettle.flow;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import org.wirekettle.call.Exchange;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;

/**
 * A record as it is before and after one step, computed by running the steps before it with answers that were kept.
 * Where none was kept the call gives nothing, so that what comes after it can still be looked at.
 *
 * @param path of the step as it was reached; null when it was not
 * @param visits how often the step was reached: inside an each once for each part
 * @param before what expressions of the step see; where it was not reached, what they would see at the last step that
 *     was
 * @param after what steps after it see; null when the record did not get there
 * @param names there are at the step with their fields, the context as {@code .}
 * @param trail of the record up to there; of its group, where records are gathered before
 * @param missing paths of calls that have no kept answer
 */
public record FlowLook(
        String path,
        int visits,
        Scope before,
        Scope after,
        Map<String, List<Field>> names,
        Trail trail,
        List<String> missing) {
    private static final long SEED = 1;

    /** What the project keeps of earlier tries. */
    public interface Kept extends Function<String, Optional<Exchange>> {
        /** The same, asked once for each path: thousands of records may come to it. Used by one thread. */
        default Kept remembering() {
            Map<String, Optional<Exchange>> known = new HashMap<>();
            return path -> known.computeIfAbsent(path, this);
        }
    }

    /**
     * @param flow of which only the steps up to the one looked at are run
     * @param step its id
     * @param visit the how-manieth time it is reached, from 1
     * @param record null when there is none
     * @param others further records that may be in a group with it; asked for only where records are gathered
     * @param kept answers by the path of their call
     * @param call makes calls that have no answer; null to leave them out
     */
    public static FlowLook at(
            Flow flow,
            String step,
            int visit,
            long number,
            Node record,
            Supplier<List<Node>> others,
            Kept kept,
            Calls call,
            Project project,
            Expressions expressions) {
        FlowCompiler.LookedAt compiled = FlowCompiler.compile(flow.until(step), step, project, expressions);
        Looking looking = new Looking(step, visit);
        Node source = record == null ? new Node("", "record") : record;
        Instant now = project.clock().instant();
        Way way = new Way(compiled.flow(), new KeptCalls(kept, call), new KeptCalls(kept.remembering(), null), now);
        List<String> missing = new ArrayList<>();
        Trail trail = way.go(number, source, looking, missing);
        for (int leg = 1; trail.fate() == Fate.GATHERED; leg++) {
            Node group = way.group(leg, number, trail, leg == 1 ? others.get() : List.of());
            trail = way.go(leg, number, group, looking, missing);
        }
        Scope before = looking.before != null
                ? looking.before
                : looking.last != null ? looking.last : Scope.of(source, now, SEED);
        return new FlowLook(
                looking.path,
                looking.visits,
                before,
                looking.after,
                compiled.names() == null ? new LinkedHashMap<>() : compiled.names(),
                trail,
                missing);
    }

    /** Takes records and the groups they make through the flow, as it is looked at. */
    private record Way(CompiledFlow flow, Calls calls, Calls keptOnly, Instant now) {
        Trail go(long number, Node record, Probe probe, List<String> missing) {
            return go(0, number, record, probe, missing);
        }

        Trail go(int leg, long number, Node record, Probe probe, List<String> missing) {
            Trail t = flow.work(work(leg, number, record, calls), probe);
            missing.addAll(t.missing());
            return t;
        }

        private Work work(int leg, long number, Node record, Calls by) {
            return new Work(number, leg, 1, record, by, now, SEED, flow.clock(), null, Map.of());
        }

        /** The group that a record is in: with those of the others that come to it by what is kept. */
        Node group(int leg, long number, Trail gathered, List<Node> others) {
            GatherStep.Gather gather = flow.gathers().get(leg - 1);
            Effects.Gathered own = gathered.effects().gathered();
            List<Node> entries = new ArrayList<>(own.entries());
            for (Node other : others) {
                Effects.Gathered there = flow.work(work(0, number, other, keptOnly), null)
                        .effects()
                        .gathered();
                if (there != null && there.key().equals(own.key()) && entries.size() < gather.most()) {
                    entries.addAll(there.entries());
                }
            }
            return gather.group(own.key(), entries.stream().map(Node::copy).toList());
        }
    }

    /** Brings records to a step; used by one thread. */
    public static final class Reach {
        private final CompiledFlow flow;
        private final Map<String, List<Field>> names;
        private final String step;
        private final Kept kept;

        public Reach(Flow flow, String step, Kept kept, Project project, Expressions expressions) {
            FlowCompiler.LookedAt compiled = FlowCompiler.compile(flow.until(step), step, project, expressions);
            this.flow = compiled.flow();
            this.names = compiled.names() == null ? Map.of() : compiled.names();
            this.step = step;
            this.kept = kept.remembering();
        }

        /** Expressions that know the names there are at the step. */
        Expressions expressions(Expressions all) {
            return knowing(names, all);
        }

        /** What the step would see, once for each time the record comes to it. */
        public List<Scope> scopes(long number, Node record) {
            return scopes(number, record, kept);
        }

        /** Likewise with answers of its own. */
        List<Scope> scopes(long number, Node record, Kept own) {
            List<Scope> out = new ArrayList<>();
            Calls calls = new KeptCalls(own, null);
            Way way = new Way(flow, calls, calls, flow.clock().instant());
            Probe probe = new Probe() {
                @Override
                public boolean before(String path, Scope scope) {
                    if (Paths.step(path).equals(step) && !Paths.isInCalled(path)) {
                        out.add(scope);
                    }
                    return true;
                }

                @Override
                public void after(String path, Scope scope) {
                    // only what comes to the step is asked for
                }
            };
            List<String> missing = new ArrayList<>();
            Trail trail = way.go(number, record, probe, missing);
            for (int leg = 1; trail.fate() == Fate.GATHERED; leg++) {
                trail = way.go(leg, number, way.group(leg, number, trail, List.of()), probe, missing);
            }
            return out;
        }
    }

    /** The fields of what expressions without a variable look at; none when they are not known. */
    public List<Field> contextFields() {
        List<Field> known = names.get(".");
        return known == null ? List.of() : known;
    }

    /** Expressions that know the names there are at the step. */
    public Expressions expressions(Expressions all) {
        return knowing(names, all);
    }

    private static Expressions knowing(Map<String, List<Field>> names, Expressions all) {
        return names.isEmpty()
                ? all
                : all.knowing(
                        names.keySet().stream().filter(n -> !n.equals(".")).toList());
    }

    private static final class Looking implements Probe {
        private final String step;
        private final int visit;
        private String path;
        private int visits;
        private Scope before;
        private Scope after;
        private Scope last;

        Looking(String step, int visit) {
            this.step = step;
            this.visit = visit;
        }

        @Override
        public boolean before(String at, Scope scope) {
            last = scope;
            if (Paths.step(at).equals(step) && !Paths.isInCalled(at) && ++visits == visit) {
                path = at;
                before = scope;
            }
            return true;
        }

        @Override
        public void after(String at, Scope scope) {
            if (at.equals(path)) {
                after = scope;
            }
        }
    }

    /** Uses what was kept. */
    private record KeptCalls(Kept kept, Calls otherwise) implements Calls {
        @Override
        public boolean hasAnswer(String path) {
            return otherwise != null || kept.apply(path).isPresent();
        }

        @Override
        public Exchange call(String path, Call call) throws Failure {
            Optional<Exchange> known = kept.apply(path);
            return known.isPresent() ? call.remembered(known.get()) : otherwise.call(path, call);
        }
    }
}
