package org.wirekettle.problem;

import org.jspecify.annotations.Nullable;

/** Input that cannot be used at all. Carries the one problem to tell the user: what, where, and what to do. */
public class Refused extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final transient Problem problem;

    /** @param place null when the input has no places, such as a form field */
    public Refused(String code, @Nullable Place place, String message) {
        this(code, place, message, null);
    }

    public Refused(String code, @Nullable Place place, String message, @Nullable Throwable cause) {
        super(message, cause);
        this.problem = Problem.error(code, place, message, null);
    }

    public Problem problem() {
        return problem;
    }

    public String code() {
        return problem.code();
    }

    public @Nullable Place place() {
        return problem.place();
    }
}
