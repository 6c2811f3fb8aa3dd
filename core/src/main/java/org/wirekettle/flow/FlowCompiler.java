package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.List;
import org.wirekettle.call.SoapCaller;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.expression.Expressions;
import org.wirekettle.problem.Problem;

/** Puts a flow's steps together, collecting all problems. Used once. */
public final class FlowCompiler {
    private final Flow flow;
    private final Project project;
    private final Expressions expressions;
    private final List<Problem> problems = new ArrayList<>();
    private final List<Stage> stages = new ArrayList<>();
    private final List<SoapCaller> callers = new ArrayList<>();
    private RecordSource source;
    private RecordTarget target;
    private int at;
    /** Of the step being compiled; null before the first. */
    private String id;

    private int parallel = 1;
    /** The fields of the current record, once a pick has fixed them; null while it is the source's. */
    private List<Field> fields;

    private FlowCompiler(Flow flow, Project project, Expressions expressions) {
        this.flow = flow;
        this.project = project;
        this.expressions = expressions;
    }

    /** Never fails: what is wrong is in {@link CompiledFlow#problems()}. */
    public static CompiledFlow compile(Flow flow, Project project, Expressions expressions) {
        FlowCompiler c = new FlowCompiler(flow, project, expressions);
        if (flow.steps().isEmpty()) {
            c.problem("The flow has no steps yet: add a source to read from.");
        }
        if (flow.steps().size() > Flow.MAX_STEPS) {
            c.problem("The flow has more than " + Flow.MAX_STEPS + " steps.");
        }
        for (Step step : flow.steps()) {
            int before = c.stages.size();
            c.id = step.id();
            step.compile(c);
            while (c.stages.size() <= before) {
                c.stages.add((item, next) -> next.accept(item));
            }
            c.at++;
        }
        List<SoapCaller> callers = List.copyOf(c.callers);
        return new CompiledFlow(
                c.source,
                List.copyOf(c.stages),
                c.target,
                c.parallel,
                List.copyOf(c.problems),
                project.clock(),
                () -> callers.forEach(SoapCaller::abort));
    }

    int step() {
        return at;
    }

    Project project() {
        return project;
    }

    Expressions expressions() {
        return expressions;
    }

    void problem(String text) {
        problem(Problem.error("step", null, text, null));
    }

    /** What is wrong in a row of the step that is being compiled. */
    void problem(Problem found) {
        problems.add(id == null ? found : found.inStep(id));
    }

    void reads(RecordSource from) {
        if (source != null || at > 0) {
            problem("A flow reads from one source, in its first step.");
        }
        source = from;
        if (fields == null) {
            try {
                fields = from.fields();
            } catch (java.io.IOException e) {
                problem("The source cannot be read: " + e.getMessage());
            }
        }
    }

    void add(Stage stage) {
        stages.add(stage);
    }

    void calls(int atATime) {
        parallel = Math.max(parallel, atATime);
    }

    void calls(SoapCaller caller) {
        callers.add(caller);
    }

    void makes(List<Field> resultFields) {
        fields = resultFields;
    }

    List<Field> fields() {
        return fields == null ? List.of() : fields;
    }

    void writes(RecordTarget to) {
        if (target != null) {
            problem("A flow writes to one target so far.");
        }
        target = to;
    }
}
