package org.wirekettle.flow;

import java.util.List;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.record.Node;

/**
 * A flow ready to run. The stages may be used by many threads; the target by one.
 *
 * @param target null when the flow writes nowhere
 * @param parallel records worked on at a time
 */
public record CompiledFlow(RecordSource source, List<Stage> stages, RecordTarget target, int parallel, List<FlowProblem> problems) {

    /** Takes one record through all steps without writing; for trying. */
    public Trail tryOn(long number, Node record) {
        return work(number, record, Calls.DIRECT);
    }

    Trail work(long number, Node record, Calls calls) {
        Item item = Item.of(number, record, calls, stages.size());
        int[] deepest = {0};
        try {
            step(0, item, deepest);
        } catch (SetAside e) {
            item.trail().end(deepest[0], e);
        }
        return item.trail();
    }

    private void step(int index, Item item, int[] at) throws SetAside {
        if (index == stages.size()) {
            item.trail().result(item.record());
            return;
        }
        at[0] = index;
        stages.get(index).process(item, next -> {
            item.trail().stepOut()[index]++;
            step(index + 1, next, at);
        });
    }
}
