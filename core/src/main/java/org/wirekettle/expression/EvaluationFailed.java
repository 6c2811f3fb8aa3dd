package org.wirekettle.expression;

/** An expression has no value for a record; expected with real data, so it is cheap and carries words for the user. */
public final class EvaluationFailed extends Exception {
    private static final long serialVersionUID = 1;

    public EvaluationFailed(String message) {
        super(message, null, false, false);
    }
}
