package org.wirekettle.server.common;

/** Names of connections, sources and targets: they stand in addresses, so some characters may not. */
public final class Names {
    private static final int MAX_CHARS = 80;

    private Names() {}

    /** @param code the problem's code when the name cannot be taken */
    public static void check(String name, String code) {
        if (name.isBlank()
                || name.length() > MAX_CHARS
                || name.matches("(?s).*[/\\\\?#%\\p{Cntrl}].*")
                || name.equals(".")
                || name.equals("..")) {
            throw Wrong.input(
                    code,
                    "A name has 1 to " + MAX_CHARS + " characters and none of / \\ ? # %, no control characters.");
        }
    }
}
