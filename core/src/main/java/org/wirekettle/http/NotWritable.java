package org.wirekettle.http;

import org.wirekettle.problem.Problem;

/** What was filled cannot be sent: a value does not go where it is meant to. */
public final class NotWritable extends Exception {
    private static final long serialVersionUID = 1;

    private final transient Problem problem;

    NotWritable(String row, String text) {
        super(text, null, false, false);
        problem = Problem.ofRow(row, "value", text);
    }

    public Problem problem() {
        return problem;
    }
}
