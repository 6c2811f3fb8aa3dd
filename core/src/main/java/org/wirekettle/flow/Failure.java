package org.wirekettle.flow;

import org.wirekettle.call.FailureCode;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;

/** A record cannot go on. Expected, so it is cheap; an attempt around the step may rescue it. */
public final class Failure extends Exception {
    private static final long serialVersionUID = 1;
    /** Of exceptions and errors nobody expected; never rescued. */
    static final String INTERNAL = "internal";

    private final String code;
    private final transient Node detail;
    private final Certainty certainty;
    private final boolean isStop;
    private String path;

    /** What is known of the call that failed. */
    public enum Certainty {
        /** Nothing was sent, or nothing was to be sent. */
        NOT_SENT,
        /** The service answered. */
        ANSWERED,
        /** It was sent, or may have been, and no answer is known. Only a resolver may rescue that. */
        UNKNOWN;

        /** As people and the API say it. */
        public String words() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', ' ');
        }
    }

    private Failure(String code, String text, Certainty certainty, Node detail, Throwable cause, boolean isStop) {
        super(text, cause, false, false);
        this.code = code;
        this.certainty = certainty;
        this.detail = detail;
        this.isStop = isStop;
    }

    /** @param code for grouping and for rescues, such as {@code draught does not fit} */
    public static Failure of(String code, String text) {
        return new Failure(code, text, Certainty.NOT_SENT, null, null, false);
    }

    /** A row of a mapping did not get a value that fits. */
    static Failure of(Problem p) {
        return of(p.rowName() + " does not fit", p.rowName() + ": " + p.text());
    }

    /** @param code such as {@code fault UnknownPort} or {@code HTTP 503}. @param detail of the fault; may be null */
    static Failure answered(String code, String text, Node detail) {
        return new Failure(code, text, Certainty.ANSWERED, detail, null, false);
    }

    /** It was sent, or may have been, and no answer is known. */
    public static Failure unknown(String text) {
        return unknown(FailureCode.NO_ANSWER.code(), text);
    }

    /** @param code such as {@code answer time-out} */
    static Failure unknown(String code, String text) {
        return new Failure(code, text, Certainty.UNKNOWN, null, null, false);
    }

    /** The record is set aside, and the run is to pause. */
    static Failure stop(String code, String text) {
        return new Failure(code, text, Certainty.NOT_SENT, null, null, true);
    }

    /** A target does not take one of the record's rows. @param path of the write step */
    public static Failure refused(String text, String path) {
        return of("the target refuses", text).at(path);
    }

    /** Something nobody expected broke. */
    static Failure internal(Throwable e) {
        return new Failure(
                INTERNAL,
                e instanceof StackOverflowError
                        ? "it is nested too deeply to be worked on"
                        : e instanceof OutOfMemoryError
                                ? "there is not enough memory to work on it"
                                : "something went wrong here (" + e.getClass().getSimpleName()
                                        + "); the server's log has the details",
                Certainty.NOT_SENT,
                null,
                e,
                false);
    }

    /** The same, noting where, unless that is known. */
    Failure at(String stepPath) {
        path = path == null ? stepPath : path;
        return this;
    }

    public String code() {
        return code;
    }

    public Certainty certainty() {
        return certainty;
    }

    public boolean isUnknown() {
        return certainty == Certainty.UNKNOWN;
    }

    boolean isStop() {
        return isStop;
    }

    /** Whether steps of the flow may treat it as a normal outcome. */
    boolean isRescuable() {
        return !isUnknown() && !isStop && !code.equals(INTERNAL);
    }

    /** The path of the step that failed; null while it is not known. */
    public String path() {
        return path;
    }

    /** As expressions see it: {@code $failure} with code, text, step, certainty and the fault's detail. */
    Node asNode() {
        Node out = new Node("", "failure");
        out.add(Node.leaf("code", code));
        out.add(Node.leaf("text", getMessage()));
        out.add(Node.leaf("step", path == null ? "" : Paths.step(path)));
        out.add(Node.leaf("certainty", certainty.words()));
        Node inside = new Node("", "detail");
        if (detail != null) {
            inside.add(detail.copy());
        }
        return out.add(inside);
    }
}
