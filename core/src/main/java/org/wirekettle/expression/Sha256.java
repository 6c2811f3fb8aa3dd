package org.wirekettle.expression;

import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;

/** SHA-256 (FIPS 180-4), made from a pattern: looking the algorithm up costs more than a short message's digest. */
public final class Sha256 {
    private static final MessageDigest PATTERN = lookedUp();

    private Sha256() {}

    private static MessageDigest lookedUp() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        }
    }

    /** A digest that has seen nothing yet. */
    public static MessageDigest begun() {
        try {
            return (MessageDigest) PATTERN.clone();
        } catch (CloneNotSupportedException e) {
            // A security provider of its own need not support it.
            return lookedUp();
        }
    }
}
