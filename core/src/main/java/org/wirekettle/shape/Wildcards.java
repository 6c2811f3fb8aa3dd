package org.wirekettle.shape;

import java.util.ArrayList;
import java.util.List;
import org.apache.xerces.xs.StringList;
import org.apache.xerces.xs.XSWildcard;

/** Wildcards read for people and for examples (XSD part 1 §3.10). */
final class Wildcards {
    private static final String EXAMPLE = "urn:example";

    private Wildcards() {}

    static Shape.Wildcard of(XSWildcard w) {
        boolean strict = w.getProcessContents() == XSWildcard.PC_STRICT;
        if (w.getConstraintType() == XSWildcard.NSCONSTRAINT_LIST) {
            List<String> names = names(w);
            String first = names.contains("") ? "" : names.isEmpty() ? EXAMPLE : names.get(0);
            return new Shape.Wildcard(
                    String.join(
                            " or ",
                            names.stream()
                                    .map(n -> n.isEmpty() ? "no namespace" : "the namespace " + n)
                                    .toList()),
                    first,
                    strict,
                    n -> admits(w, n));
        }
        if (w.getConstraintType() == XSWildcard.NSCONSTRAINT_NOT) {
            String not = names(w).stream().filter(n -> !n.isEmpty()).findFirst().orElse("");
            return new Shape.Wildcard(
                    not.isEmpty() ? "any namespace" : "another namespace than " + not,
                    EXAMPLE,
                    strict,
                    n -> admits(w, n));
        }
        return new Shape.Wildcard("any namespace", EXAMPLE, strict, n -> admits(w, n));
    }

    static boolean admits(XSWildcard w, String namespace) {
        String ns = namespace == null ? "" : namespace;
        return switch (w.getConstraintType()) {
            case XSWildcard.NSCONSTRAINT_LIST -> names(w).contains(ns);
            case XSWildcard.NSCONSTRAINT_NOT -> !ns.isEmpty() && !names(w).contains(ns);
            default -> true;
        };
    }

    private static List<String> names(XSWildcard w) {
        List<String> out = new ArrayList<>();
        StringList list = w.getNsConstraintList();
        for (int i = 0; i < list.getLength(); i++) {
            out.add(list.item(i) == null ? "" : list.item(i));
        }
        return out;
    }
}
