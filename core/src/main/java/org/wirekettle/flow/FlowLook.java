package org.wirekettle.flow;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
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
 * @param trail of the record up to there
 */
public record FlowLook(
        String path, int visits, Scope before, Scope after, Map<String, List<Field>> names, Trail trail) {
    private static final long SEED = 1;

    /** What the project keeps of earlier tries. */
    public interface Kept extends Function<String, Optional<Exchange>> {}

    /**
     * @param flow of which only the steps up to the one looked at are run
     * @param step its id
     * @param visit the how-manieth time it is reached, from 1
     * @param record null when there is none
     * @param kept answers by the path of their call
     * @param call makes calls that have no answer; null to leave them out
     */
    public static FlowLook at(
            Flow flow,
            String step,
            int visit,
            long number,
            Node record,
            Kept kept,
            Calls call,
            Project project,
            Expressions expressions) {
        FlowCompiler.LookedAt compiled = FlowCompiler.compile(flow.until(step), step, project, expressions);
        Looking looking = new Looking(step, visit);
        Node source = record == null ? new Node("", "record") : record;
        Instant now = project.clock().instant();
        Work work = new Work(number, source, new KeptCalls(kept, call), now, SEED, project.clock(), null);
        Trail trail = compiled.flow().work(work, looking);
        Scope before = looking.before != null
                ? looking.before
                : looking.last != null ? looking.last : Scope.of(source, now, SEED);
        return new FlowLook(
                looking.path,
                looking.visits,
                before,
                looking.after,
                compiled.names() == null ? new LinkedHashMap<>() : compiled.names(),
                trail);
    }

    /** Brings records to a step; used by one thread. */
    public static final class Reach {
        private final CompiledFlow flow;
        private final String step;
        private final Kept kept;

        public Reach(Flow flow, String step, Kept kept, Project project, Expressions expressions) {
            this.flow = FlowCompiler.compile(flow.until(step), step, project, expressions)
                    .flow();
            this.step = step;
            this.kept = kept;
        }

        /** What the step would see, once for each time the record comes to it. */
        public List<Scope> scopes(long number, Node record) {
            List<Scope> out = new ArrayList<>();
            Work work = new Work(
                    number, record, new KeptCalls(kept, null), flow.clock().instant(), SEED, flow.clock(), null);
            flow.work(work, new Probe() {
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
            });
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
