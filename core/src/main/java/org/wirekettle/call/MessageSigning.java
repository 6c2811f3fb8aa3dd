package org.wirekettle.call;

import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.soap.MessageSignature.KeyReference;
import org.wirekettle.soap.MessageSignature.Part;

/**
 * What is signed in requests, and what is looked at in answers. Immutable.
 *
 * @param own what requests are signed with; null for none
 * @param skewSeconds how far the clocks of the two sides may be apart
 */
public record MessageSigning(
        @Nullable OwnCertificate own, Set<Part> parts, KeyReference reference, Answers answers, int skewSeconds) {
    /** Whether signatures and timestamps of answers are checked. */
    public enum Answers {
        NOT_LOOKED_AT,
        WHERE_PRESENT,
        REQUIRED
    }

    public static final int DEFAULT_SKEW_SECONDS = 300;
    public static final MessageSigning NONE =
            new MessageSigning(null, Set.of(), KeyReference.CERTIFICATE, Answers.NOT_LOOKED_AT, DEFAULT_SKEW_SECONDS);

    public MessageSigning {
        parts = Set.copyOf(parts);
    }
}
