package org.wirekettle.problem;

/** Input that cannot be used at all. Carries the one thing to tell the user: what, where, and what to do. */
public final class Refused extends RuntimeException {
    private final transient Place place;
    private final String code;

    public Refused(String code, Place place, String message) {
        super(message);
        this.code = code;
        this.place = place;
    }

    public Refused(String code, Place place, String message, Throwable cause) {
        super(message, cause);
        this.code = code;
        this.place = place;
    }

    public String code() {
        return code;
    }

    /** May be null when the input has no places, such as a form field. */
    public Place place() {
        return place;
    }
}
