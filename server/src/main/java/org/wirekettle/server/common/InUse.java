package org.wirekettle.server.common;

import java.util.List;

/** What something is used by keeps it from being removed. */
public final class InUse {
    private static final int MAX_NAMED = 8;

    private InUse() {}

    /** @param users in words, such as {@code the flow Tide windows} */
    public static void refuse(String what, String name, List<String> users) {
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
