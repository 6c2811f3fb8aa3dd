package org.wirekettle.server.common;

import java.util.List;
import java.util.function.IntSupplier;

/** What something is used by keeps it from being removed. */
public final class InUse {
    private static final int MAX_NAMED = 8;

    private InUse() {}

    /**
     * Removes something, unless it is used or not there.
     *
     * @param users in words, such as {@code the flow Tide windows}
     * @param removal the number of rows it removed
     */
    public static void remove(String what, String name, List<String> users, IntSupplier removal) {
        refuse(what, name, users);
        if (removal.getAsInt() == 0) {
            throw Wrong.notFound(what, name);
        }
    }

    private static void refuse(String what, String name, List<String> users) {
        if (!users.isEmpty()) {
            String named = String.join(", ", users.subList(0, Math.min(MAX_NAMED, users.size())));
            throw Wrong.conflict(
                    what + ".used",
                    "The " + what + " " + name + " is used by " + named
                            + (users.size() > MAX_NAMED ? " and " + (users.size() - MAX_NAMED) + " more" : "")
                            + ". Take it out there first.");
        }
    }
}
