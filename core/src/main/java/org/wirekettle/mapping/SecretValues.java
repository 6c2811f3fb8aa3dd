package org.wirekettle.mapping;

import org.jspecify.annotations.Nullable;

/** Where the values of secrets come from that rules name. */
@FunctionalInterface
public interface SecretValues {
    /** What stands for a secret. */
    String SHOWN_AS = "•••";

    /** While designing: a row shows that there is one, and nobody needs to know it. */
    SecretValues SHOWN = name -> null;

    /** None may be used. */
    SecretValues NONE = name -> {
        throw new NoSecret("a secret goes only over a connection that it was given for");
    };

    /**
     * The value.
     *
     * @return null where only is shown that there is one
     * @throws NoSecret when there is none of that name, or it may not go there
     */
    @Nullable
    String value(String name) throws NoSecret;

    /** It cannot be used, in words. */
    final class NoSecret extends Exception {
        private static final long serialVersionUID = 1;

        public NoSecret(String message) {
            super(message);
        }
    }
}
