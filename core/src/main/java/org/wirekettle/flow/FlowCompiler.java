package org.wirekettle.flow;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.call.OperationCaller;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.input.Inputs;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;

/** Puts a flow's steps together, collecting all problems; knows at each step which names there are. Used once. */
public final class FlowCompiler {
    private static final int MAX_CALLED = 5;
    private static final String NAME = "[A-Za-z_][A-Za-z0-9_.-]{0,59}";

    /** For a step that counts itself. */
    private static final int NOT_COUNTED = -1;

    private final Project project;
    private final Expressions all;
    private final List<Problem> problems = new ArrayList<>();
    private final List<Problem> warnings = new ArrayList<>();
    private final List<String> counters = new ArrayList<>();
    private final List<OperationCaller> callers = new ArrayList<>();
    private final List<CompiledFlow.Output> outputs = new ArrayList<>();

    private final Names names = new Names();

    private final Warning noticing = new Warning();
    private final SourceIndex.Room room = new SourceIndex.Room();
    /** Every name there ever is. */
    private final Map<String, List<Node>> variables = new LinkedHashMap<>();

    /** Where records are gathered: there a leg ends. */
    private final List<GatherStep.Gather> gathers = new ArrayList<>();
    /** The names there are before anything is read: calls made once a run. They are there in every leg. */
    private Map<String, List<Field>> namesOfRun = new LinkedHashMap<>();

    /** Of the flow being compiled: calls made once a run that may have to be made again. */
    private List<Renewal> renewals = new ArrayList<>();
    /** Likewise: names of what such calls gave. */
    private Set<String> namesOfOnce = new HashSet<>();

    private RecordSource source;
    /** Whose request it receives; null for none. */
    private ContractOperation operation;
    /** What it receives; null where it reads. */
    private Inputs inputs;
    /** Of its first reply; null for none. */
    private Reply.Form reply;

    /** Of the step being compiled; null before the first. */
    private Step step;

    /** Names of flows that are being compiled inside of each other. */
    private final List<String> calledFlows = new ArrayList<>();

    private String lookedAt;
    private Map<String, List<Field>> namesThere;
    private int counter;
    private int depth;
    private int parallel = 1;

    private FlowCompiler(Project project, Expressions expressions) {
        this.project = project;
        this.all = expressions.with(new SourceLists(project, room));
    }

    /** Never fails: what is wrong is in {@link CompiledFlow#problems()}. */
    public static CompiledFlow compile(Flow flow, Project project, Expressions expressions) {
        return new FlowCompiler(project, expressions).compiled(flow, null);
    }

    /**
     * A flow as it is looked at from one of its steps.
     *
     * @param names there are at the step, with their fields; {@code .} is the context; null when it is not there
     */
    record LookedAt(CompiledFlow flow, Map<String, List<Field>> names) {}

    static LookedAt compile(Flow flow, String lookedAt, Project project, Expressions expressions) {
        FlowCompiler c = new FlowCompiler(project, expressions);
        return new LookedAt(c.compiled(flow, lookedAt), c.namesThere);
    }

    private CompiledFlow compiled(Flow flow, String lookedAtId) {
        lookedAt = lookedAtId;
        names.put(Names.RECORD, null);
        context(null);
        project.variables().forEach((name, value) -> {
            names.put(name, null);
            variables.put(name, List.of(value));
        });
        if (flow.steps().isEmpty()) {
            problem("The flow has no steps yet: add a source to read from.");
        }
        List<Runner> legs = List.of(Runner.NONE);
        if (flow.all().count() > Flow.MAX_STEPS) {
            problem("The flow has more than " + Flow.MAX_STEPS + " steps.");
        } else {
            legs = legs(flow.steps());
        }
        Map<String, String> stepNames = new LinkedHashMap<>();
        flow.all().forEach(s -> stepNames.put(s.id(), "step " + (stepNames.size() + 1)));
        List<OperationCaller> called = List.copyOf(callers);
        return new CompiledFlow(
                source,
                operation,
                inputs,
                reply,
                legs,
                List.copyOf(gathers),
                List.copyOf(outputs),
                List.copyOf(counters),
                stepNames,
                Collections.unmodifiableMap(new LinkedHashMap<>(variables)),
                parallel,
                List.copyOf(problems),
                List.copyOf(warnings),
                project.clock(),
                () -> called.forEach(OperationCaller::abort));
    }

    /** The outermost steps, cut where records are gathered. What is once a run comes before each leg. */
    private List<Runner> legs(List<Step> steps) {
        List<Runner> out = new ArrayList<>();
        int reading = 0;
        while (reading < steps.size() && !steps.get(reading).kind().isBeginning()) {
            reading++;
        }
        boolean reads = reading < steps.size();
        Runner before = reads ? sequence(steps.subList(0, reading)) : Runner.NONE;
        namesOfRun = names.now();
        int from = reads ? reading : 0;
        while (out.isEmpty() || from < steps.size()) {
            int to = from;
            while (to < steps.size() && !isCut(steps.get(to))) {
                to++;
            }
            to = Math.min(steps.size(), to + 1);
            Runner leg = sequence(steps.subList(from, to));
            out.add(reading == 0 || !reads ? leg : new Sequence(new Runner[] {before, leg}));
            from = to;
        }
        // Nothing comes after the last gathering: then what it gathered is done as it is.
        while (out.size() <= gathers.size()) {
            out.add(Runner.NONE);
        }
        return List.copyOf(out);
    }

    private static boolean isCut(Step s) {
        return s.kind() instanceof GatherStep && !s.off();
    }

    /** Records are gathered by the step being compiled; the steps after it see groups. @param fields of an entry */
    void gathers(GatherStep.Gather gather, List<Field> fields) {
        gathers.add(gather);
        List<Field> group = GatherStep.groupFields(gather.entry());
        Map<String, List<Field>> before = names.now();
        names.back(namesOfRun);
        names.put(Names.RECORD, before.get(Names.RECORD));
        names.put(Names.CONTEXT, before.get(Names.CONTEXT));
        names(gather.entry(), fields);
        names(CompiledFlow.TOTALS, null);
        names.stand(Names.RECORD, group, step);
        context(group);
    }

    /** The steps of a block, one after the other. */
    Runner sequence(List<Step> steps) {
        depth++;
        Step around = step;
        List<Runner> out = new ArrayList<>();
        for (Step s : steps) {
            int index = counter(s.id());
            if (s.off()) {
                countersInside(s);
                continue;
            }
            step = s;
            counter = index;
            if (s.id().equals(lookedAt) && !isCalled()) {
                namesThere = names.now();
            }
            Runner compiled = s.kind().compile(this);
            out.add(step(s.id(), s.kind().isOnceARun() ? NOT_COUNTED : index, compiled));
        }
        step = around;
        depth--;
        return out.size() == 1 ? out.get(0) : new Sequence(out.toArray(new Runner[0]));
    }

    /** What is switched off is counted, too: nothing passes it. */
    private void countersInside(Step off) {
        off.arms().forEach(a -> {
            counter(off.id() + "/" + a.name());
            a.steps().forEach(s -> {
                counter(s.id());
                countersInside(s);
            });
        });
    }

    /** Compiles what is inside a block whose names end with it. */
    void inside(Runnable block) {
        Map<String, List<Field>> before = names.now();
        block.run();
        names.back(before);
    }

    /**
     * Another flow that runs as one step of this one.
     *
     * @param variables it knows beside its record
     */
    record Called(Runner steps, Map<String, List<Node>> variables) {}

    /** @return empty after reporting why it cannot run */
    Optional<Called> called(String name, Flow flow) {
        if (calledFlows.contains(name) || calledFlows.size() >= MAX_CALLED) {
            problem("The flow " + name + " would run itself, or flows run flows more than " + MAX_CALLED + " deep.");
            return Optional.empty();
        }
        calledFlows.add(name);
        Map<String, List<Field>> before = names.now();
        int problemsBefore = problems.size();
        names.back(Map.of());
        names.put(Names.RECORD, null);
        context(null);
        Map<String, List<Node>> known = new LinkedHashMap<>();
        project.variables().forEach((n, value) -> {
            names.put(n, null);
            known.put(n, List.of(value));
        });
        Set<String> outer = new HashSet<>(variables.keySet());
        Step self = step;
        List<Renewal> renewalsBefore = renewals;
        Set<String> onceBefore = namesOfOnce;
        renewals = new ArrayList<>();
        namesOfOnce = new HashSet<>();
        Runner steps = sequence(flow.steps());
        step = self;
        renewals = renewalsBefore;
        namesOfOnce = onceBefore;
        variables.keySet().stream().filter(n -> !known.containsKey(n)).forEach(n -> known.put(n, List.of()));
        variables.keySet().retainAll(outer);
        names.back(before);
        calledFlows.remove(name);
        if (problems.size() > problemsBefore) {
            String first = problems.get(problemsBefore).inWords();
            problems.subList(problemsBefore, problems.size()).clear();
            problem("The flow " + name + " does not work yet: " + first);
            return Optional.empty();
        }
        return Optional.of(new Called(steps, known));
    }

    /** Whether a flow is compiled that another one runs. */
    boolean isCalled() {
        return !calledFlows.isEmpty();
    }

    /** Counts how often something is passed. @return its index; negative where nothing is counted */
    int counter(String key) {
        if (isCalled()) {
            return NOT_COUNTED;
        }
        counters.add(key);
        return counters.size() - 1;
    }

    /** The counter of an arm of the step being compiled. */
    int armCounter(String arm) {
        return counter(step.id() + "/" + arm);
    }

    /** The counter of the step being compiled. */
    int counter() {
        return counter;
    }

    Step step() {
        return step;
    }

    /** Whether the step being compiled is inside no block. */
    boolean isOutermost() {
        return depth == 1;
    }

    Project project() {
        return project;
    }

    /** What the flow's look-ups and joins may keep together. */
    SourceIndex.Room room() {
        return room;
    }

    /** Knowing the names there are here. */
    Expressions expressions() {
        return names.expressions(all, noticing);
    }

    /** What expressions ask of fields, and what that will come to. */
    private final class Warning implements Expressions.Noticing {
        @Override
        public void missing(String name, String field) {
            warn(null, names.missing(name, field));
        }

        @Override
        public void goesInto(String name, String field, String type, String row) {
            names.broken(name, field, type).ifPresent(why -> warn(row, why));
        }

        private void warn(String row, String text) {
            Problem found = Problem.warning("field", row == null ? null : Place.ofRow(row, null), text, null, null);
            Problem placed = step == null ? found : found.inStep(step.id());
            if (!isCalled() && !warnings.contains(placed)) {
                warnings.add(placed);
            }
        }
    }

    /** What expressions without a variable look at from here on. @param fields null when they are not known */
    void context(List<Field> fields) {
        names.stand(Names.CONTEXT, fields, step);
    }

    /** A required expression of the step. @return empty after reporting what is wrong. @param row the field it is in */
    Optional<Expression> expression(String xpath, String row, String missing) {
        if (xpath == null || xpath.isBlank()) {
            problem(missing);
            return Optional.empty();
        }
        return optional(xpath, row);
    }

    /** One that may be absent. */
    Optional<Expression> optional(String xpath, String row) {
        return optional(xpath, row, expressions());
    }

    /** Those that look at what an expression gives. @param from null for what is looked at here */
    Expressions expressionsAt(String from) {
        List<Field> around = names.fields(Names.CONTEXT);
        List<Field> there = fieldsOf(from);
        names.put(Names.CONTEXT, there.isEmpty() ? null : there);
        Expressions out = expressions();
        names.put(Names.CONTEXT, around);
        return out;
    }

    Optional<Expression> optional(String xpath, String row, Expressions by) {
        if (xpath == null || xpath.isBlank()) {
            return Optional.empty();
        }
        try {
            return Optional.of(by.compile(xpath));
        } catch (ExpressionFault e) {
            problem(e.inRow(row));
            return Optional.empty();
        }
    }

    void problem(String text) {
        problem(Problem.error("step", null, text, null));
    }

    /** What is wrong in a row of the step that is being compiled. */
    void problem(Problem found) {
        problems.add(step == null ? found : found.inStep(step.id()));
    }

    boolean hasProblems() {
        return problems.stream()
                .anyMatch(p -> p.place() != null && step.id().equals(p.place().step()));
    }

    void reads(RecordSource from) {
        if (source != null) {
            problem("A flow reads from one source. To use another one beside it, look it up or join it.");
            return;
        }
        source = from;
        try {
            names.put(Names.RECORD, from.fields());
            context(from.fields());
        } catch (IOException e) {
            problem("The source cannot be read: " + e.getMessage());
        }
    }

    /**
     * Records have these inputs.
     *
     * @param of whose request they are, instead; null for none
     * @param fields of a record
     * @param samples to be worked on by hand; those of a called flow are not
     */
    void receives(ContractOperation of, Inputs taken, List<Field> fields, RecordSource samples) {
        if (isCalled()) {
            names.put(Names.RECORD, fields);
            context(fields);
        } else {
            reads(samples);
            inputs = taken;
            operation = of;
        }
    }

    /** Whether the flow is handed its records by those who ask. */
    boolean isAsked() {
        return inputs != null;
    }

    /** Whose request the flow receives; empty for none. */
    Optional<ContractOperation> operation() {
        return isCalled() ? Optional.empty() : Optional.ofNullable(operation);
    }

    /** What the flow answers to whoever handed it the record. */
    void replies(Reply.Form form) {
        if (!isCalled() && reply == null) {
            reply = form;
        }
    }

    /** The records worked on at a time are as many as the most that a step wants. */
    void calls(int atATime) {
        parallel = Math.max(parallel, atATime);
    }

    void calls(OperationCaller caller) {
        callers.add(caller);
    }

    /**
     * Names a result for the steps after this one.
     *
     * @param fields of each of its records; null when they are not known
     */
    void names(String name, List<Field> fields) {
        if (!name.matches(NAME)) {
            problem("A name begins with a letter and has letters, digits, _, . or -, at most 60: " + name
                    + " is none.");
            return;
        }
        names.stand(name, fields, step);
        if (!name.equals(Names.RECORD)) {
            variables.putIfAbsent(name, List.of());
        }
    }

    /**
     * A name that every call gives, unless the flow has one like it for something of its own. @return whether it does
     */
    boolean namesOfCall(String name, List<Field> fields) {
        boolean isGiven = names.isForCalls(name, fields);
        if (isGiven) {
            names(name, fields);
        }
        return isGiven;
    }

    /** See {@link Names#fieldsOf}. */
    List<Field> fieldsOf(String xpath) {
        return names.fieldsOf(xpath);
    }

    /** @return the index among the flow's targets; the same for the same name */
    int writes(String name, RecordTarget to) {
        outputs.add(new CompiledFlow.Output(name, to));
        return outputs.size() - 1;
    }

    Optional<Integer> output(String name) {
        for (int i = 0; i < outputs.size(); i++) {
            if (outputs.get(i).name().equals(name)) {
                return Optional.of(i);
            }
        }
        return Optional.empty();
    }

    /** The step being compiled is a call made once a run, and may have to be made again. */
    void renews(Renewal.RenewWhen when, Runner call) {
        renewals.add(new Renewal(step.id(), when, step(step.id(), NOT_COUNTED, call)));
    }

    List<Renewal> renewals() {
        return List.copyOf(renewals);
    }

    /** @param isOnce whether the name stands for what is the same for all records, until it is named anew */
    void isOnceARun(String name, boolean isOnce) {
        if (isOnce) {
            namesOfOnce.add(name);
        } else {
            namesOfOnce.remove(name);
        }
    }

    /** Those of these expressions' names that stand for what is once a run. */
    List<String> onceARunIn(List<String> xpaths) {
        return namesOfOnce.stream()
                .filter(n -> xpaths.stream().anyMatch(x -> x != null && x.contains("$" + n)))
                .toList();
    }

    /** A step as it is run. */
    static Runner step(String id, int counter, Runner runner) {
        return new RunStep(id, counter, runner);
    }

    /** Runs a step: counts it, and notes where it failed. */
    private record RunStep(String id, int counter, Runner runner) implements Runner {
        @Override
        public void run(Frame frame) throws Failure {
            String around = frame.enter(id, counter);
            Probe probe = frame.probe();
            if (probe != null && !probe.before(frame.path(), frame.scope())) {
                throw Failure.stop("looked at", "");
            }
            try {
                runner.run(frame);
            } catch (Failure e) {
                throw e.at(frame.path(id));
            } catch (BrokenRun e) {
                throw e;
            } catch (RuntimeException | Error e) {
                throw Failure.internal(e).at(frame.path(id));
            }
            if (probe != null) {
                probe.after(frame.path(id), frame.scope());
            }
            frame.leave(around);
        }
    }

    private record Sequence(Runner[] steps) implements Runner {
        @Override
        public void run(Frame frame) throws Failure {
            for (Runner s : steps) {
                s.run(frame);
            }
        }
    }
}
