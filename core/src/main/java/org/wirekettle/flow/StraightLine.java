package org.wirekettle.flow;

import java.util.ArrayList;
import java.util.List;

/**
 * Definitions from before steps could be inside each other. There a pick made each of its results the record that the
 * steps after it worked on; now its results have a name, and what came after a pick other than writing is done for
 * each.
 */
final class StraightLine {
    private static final String RESULT = "result";

    private StraightLine() {}

    static List<Step> upgraded(List<Step> steps) {
        List<Step> out = new ArrayList<>();
        for (int i = 0; i < steps.size(); i++) {
            Step s = steps.get(i);
            if (!(s.kind() instanceof PickStep p) || p.as() != null) {
                out.add(s);
                continue;
            }
            out.add(s.doing(new PickStep(RESULT, p.each(), p.columns(), p.also())));
            List<Step> rest = steps.subList(i + 1, steps.size());
            if (rest.stream().allMatch(r -> r.kind() instanceof WriteStep)) {
                rest.forEach(r -> out.add(r.doing(((WriteStep) r.kind()).from("$" + RESULT))));
            } else {
                out.add(new Step(null, new EachStep("$" + RESULT, "row", null, null, null, upgraded(rest), null)));
            }
            return out;
        }
        return out;
    }
}
