package org.wirekettle.flow;

/**
 * Where in a record's way something happened: ids of steps from the outermost, with the number of the part inside an
 * each, {@code s4[12]/s7}. The same whatever runs in parallel, so it is also a call's key.
 */
public final class Paths {
    private Paths() {}

    /** Stands after the id of a step that runs another flow; what follows is inside that. */
    private static final String CALLED = "()/";

    /** Stands after the path of a call that is sent again within the record's way; a number follows. */
    static final String AGAIN = "~";

    /** What is before the path in the flow that it is in: nothing, or the steps that run that flow. */
    static String flow(String prefix) {
        int called = prefix.lastIndexOf(CALLED);
        return called < 0 ? "" : prefix.substring(0, called + CALLED.length());
    }

    /** The id of the step a path leads to; of a path into another flow the step that runs that. */
    public static String step(String path) {
        int called = path.indexOf(CALLED);
        String own = called < 0 ? path : path.substring(0, called);
        int again = own.lastIndexOf(AGAIN);
        return own.substring(own.lastIndexOf('/') + 1, again < 0 ? own.length() : again);
    }

    static boolean isInCalled(String path) {
        return path.contains(CALLED);
    }

    static String called(String prefix, String id) {
        return prefix + id + CALLED;
    }

    /**
     * The step a path leads to, whichever part it works on: its id alone, or behind the steps that run the flows it is
     * in, as ids are a flow's own.
     */
    static String anyPart(String path) {
        return path.replaceAll("[^/]+\\[\\d+]/", "");
    }

    /** The path of the part of an each. @param number from 1 */
    static String part(String prefix, String id, int number) {
        return prefix + id + "[" + number + "]/";
    }
}
