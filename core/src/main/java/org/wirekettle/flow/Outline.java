package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A flow as rows to be read from top to bottom: steps, and the arms of blocks. */
public final class Outline {
    private Outline() {}

    /**
     * @param key what is counted: the step's id, or {@code id/arm}
     * @param step the id of the step, or of the block that the arm belongs to
     * @param arm null for a step
     * @param number of the step, from 1; that of the block for an arm
     * @param depth blocks around it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Row(
            String key,
            String step,
            @Nullable String arm,
            int number,
            String kind,
            String title,
            int depth,
            boolean off) {}

    public static List<Row> of(Flow flow) {
        List<Row> out = new ArrayList<>();
        add(flow.steps(), 0, new int[1], false, out);
        return out;
    }

    private static Row arm(Step s, Arm a, int number, int depth, boolean off) {
        return new Row(s.id() + "/" + a.name(), s.id(), a.name(), number, s.kindName(), a.title(), depth, off);
    }

    private static void add(List<Step> steps, int depth, int[] number, boolean isOff, List<Row> into) {
        for (Step s : steps) {
            int own = ++number[0];
            boolean off = isOff || s.off();
            into.add(new Row(s.id(), s.id(), null, own, s.kindName(), s.title(), depth, off));
            for (Arm a : s.arms()) {
                into.add(arm(s, a, own, depth + 1, off));
                add(a.steps(), depth + 1, number, off, into);
            }
            if (s.kind().closing() != null) {
                into.add(arm(s, s.kind().closing(), own, depth + 1, off));
            }
        }
    }
}
