package org.wirekettle.flow;

/**
 * Where in a record's way something happened: ids of steps from the outermost, with the number of the part inside an
 * each, {@code s4[12]/s7}. The same whatever runs in parallel, so it is also a call's key.
 */
public final class Paths {
    private Paths() {}

    /** The id of the step a path leads to. */
    public static String step(String path) {
        return path.substring(path.lastIndexOf('/') + 1);
    }

    /** The path of the part of an each. @param number from 1 */
    static String part(String prefix, String id, int number) {
        return prefix + id + "[" + number + "]/";
    }
}
