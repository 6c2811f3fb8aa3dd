package org.wirekettle.flow;

import java.time.Clock;
import java.util.List;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;

/**
 * A flow ready to run. The stages may be used by many threads; the target by one.
 *
 * @param target null when the flow writes nowhere
 * @param parallel records worked on at a time
 * @param clock for what happens to the records
 * @param abort ends the calls under way
 */
public record CompiledFlow(
        RecordSource source,
        List<Stage> stages,
        RecordTarget target,
        int parallel,
        List<Problem> problems,
        Clock clock,
        Runnable abort) {
    CompiledFlow(RecordSource source, List<Stage> stages, RecordTarget target, int parallel, List<Problem> problems) {
        this(source, stages, target, parallel, problems, Clock.systemUTC(), () -> {});
    }

    private static final System.Logger LOG = System.getLogger(CompiledFlow.class.getName());

    /** Takes one record through all steps without writing; for trying. */
    public Trail tryOn(long number, Node record) {
        return work(number, record, Calls.DIRECT);
    }

    Trail work(long number, Node record, Calls calls) {
        Item item = Item.of(number, record, calls, stages.size(), clock);
        int[] deepest = {0};
        try {
            step(0, item, deepest);
        } catch (SetAside e) {
            item.trail().end(deepest[0], e);
        } catch (Journal.Broken e) {
            throw e;
        } catch (RuntimeException | Error e) {
            // One record must never stop the others; what it was is told in the log.
            LOG.log(System.Logger.Level.ERROR, "record " + number + " could not be worked on", e);
            item.trail().end(deepest[0], internal(e));
        }
        return item.trail();
    }

    private static SetAside internal(Throwable e) {
        return SetAside.because(
                "internal",
                e instanceof StackOverflowError
                        ? "it is nested too deeply to be worked on"
                        : e instanceof OutOfMemoryError
                                ? "there is not enough memory to work on it"
                                : "something went wrong here (" + e.getClass().getSimpleName()
                                        + "); the server's log has the details");
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
