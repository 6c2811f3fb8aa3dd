package org.wirekettle.flow;

import java.time.Clock;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.expression.Scope;
import org.wirekettle.input.Inputs;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.xml.FieldNames;

/**
 * A flow ready to run. What it runs may be used by many threads; each target by one.
 *
 * @param operation whose request it takes from whoever starts it; null for none
 * @param inputs what it takes from them; null for one that reads
 * @param reply what it answers them; null for nothing
 * @param legs what is run for each record: first for those of the source, then for the groups that they were gathered
 *     into, and so on
 * @param gathers where a leg ends and the next begins; one fewer than legs
 * @param outputs the targets written to, in the order of their first write
 * @param counters what is counted: ids of steps, and of their arms as {@code id/arm}
 * @param names of steps for people, by id
 * @param variables what is known at the start; without a value it is the empty sequence
 * @param parallel records worked on at a time
 * @param warnings what may not be meant, but keeps nothing from running
 * @param clock for what happens to the records
 * @param abort ends the calls under way
 */
public record CompiledFlow(
        RecordSource source,
        @Nullable ContractOperation operation,
        @Nullable Inputs inputs,
        Reply.@Nullable Form reply,
        List<Runner> legs,
        List<GatherStep.Gather> gathers,
        List<Output> outputs,
        List<String> counters,
        Map<String, String> names,
        Map<String, List<Node>> variables,
        int parallel,
        List<Problem> problems,
        List<Problem> warnings,
        Clock clock,
        Runnable abort) {
    static final String TOTALS = "totals";
    private static final System.Logger LOG = System.getLogger(CompiledFlow.class.getName());

    /** A target and its name in the project. */
    public record Output(String name, RecordTarget target) {}

    /** What whoever asks it has to know. Not of a flow that reads. */
    public Taken taken() {
        return new Taken(operation, inputs, reply);
    }

    /** What people know a step by: its number in the outline. */
    public String stepName(String id) {
        return names.getOrDefault(id, id);
    }

    /** Takes one record through all steps without writing; for trying. */
    public Trail tryOn(long number, Node record) {
        return work(Work.trying(number, record, Calls.DIRECT, clock));
    }

    /** Works on one record. Never throws for what is wrong with it. */
    public Trail work(Work work) {
        return work(work, null);
    }

    Trail work(Work work, Probe probe) {
        long start = clock.millis();
        Scope scope = Scope.of(work.record(), work.at(), work.seed());
        for (Map.Entry<String, List<Node>> v : variables.entrySet()) {
            scope = scope.with(v.getKey(), v.getValue());
        }
        if (work.leg() > 0) {
            GatherStep.Gather gather = gathers.get(work.leg() - 1);
            scope = scope.with(gather.entry(), gather.entries(work.record())).with(TOTALS, totals(work));
            if (probe != null) {
                probe.after(gather.step(), scope);
            }
        }
        Frame frame = Frame.of(work, counters.size(), scope, probe);
        Failure failure = null;
        try {
            legs.get(work.leg()).run(frame);
        } catch (Failure e) {
            failure = e.at(frame.path());
            if (e.getCause() != null) {
                // One record must never stop the others; what it was is told in the log.
                LOG.log(System.Logger.Level.ERROR, "record " + work.number() + " broke at " + e.path(), e.getCause());
            }
        }
        return new Trail(work, start, frame, failure);
    }

    private static Node totals(Work work) {
        Node out = new Node("", TOTALS);
        work.totals().forEach((name, value) -> out.add(Node.leaf(FieldNames.name(name), value.toPlainString())));
        return out;
    }
}
