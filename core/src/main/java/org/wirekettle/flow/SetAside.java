package org.wirekettle.flow;

import org.wirekettle.problem.Problem;

/** A record cannot go on. Expected, so it is cheap; carries the reason in words and how to group it. */
final class SetAside extends Exception {
    private static final long serialVersionUID = 1;
    private final String code;
    private final boolean inDoubt;

    private SetAside(String code, String text, boolean inDoubt) {
        super(text, null, false, false);
        this.code = code;
        this.inDoubt = inDoubt;
    }

    /** @param code for grouping, such as {@code fault UnknownPort} or {@code draught} */
    static SetAside because(String code, String text) {
        return new SetAside(code, text, false);
    }

    /** A row of a mapping did not get a value that fits. */
    static SetAside because(Problem p) {
        return because(p.rowName() + " does not fit", p.rowName() + ": " + p.text());
    }

    /** It was sent, or may have been, and no answer is known. */
    static SetAside inDoubt(String text) {
        return new SetAside("no answer", text, true);
    }

    static SetAside unreachable(String text) {
        return new SetAside("unreachable", text, false);
    }

    String code() {
        return code;
    }

    boolean isInDoubt() {
        return inDoubt;
    }
}
