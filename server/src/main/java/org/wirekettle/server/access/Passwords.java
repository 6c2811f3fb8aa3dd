package org.wirekettle.server.access;

import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.concurrent.Semaphore;
import javax.crypto.SecretKeyFactory;
import javax.crypto.spec.PBEKeySpec;
import org.wirekettle.server.common.Wrong;

/** Slow password hashes: PBKDF2 with HMAC-SHA-256, written as {@code pbkdf2$rounds$salt$hash}. */
final class Passwords {
    private static final int ROUNDS = 310_000;
    private static final int SALT_BYTES = 16;
    private static final int HASH_BITS = 256;
    private static final int MIN_CHARS = 10;
    private static final int MAX_CHARS = 500;
    /**
     * Checking takes a processor a tenth of a second; more at a time than there are processors would only slow all
     * down.
     */
    private static final Semaphore AT_A_TIME =
            new Semaphore(Math.max(2, Runtime.getRuntime().availableProcessors()));
    /** Takes as long to check as a real one, so that unknown names cannot be told by time. */
    private static final String NOBODYS = hash("nobody's password");

    private Passwords() {}

    /** @throws Wrong when it is too short to be worth anything, or too long */
    static void check(String password) {
        if (password == null || password.length() < MIN_CHARS || password.length() > MAX_CHARS) {
            throw Wrong.input(
                    "account.password",
                    "A password has at least " + MIN_CHARS + " characters, and at most " + MAX_CHARS + ".");
        }
    }

    static String hash(String password) {
        byte[] salt = new byte[SALT_BYTES];
        new SecureRandom().nextBytes(salt);
        return "pbkdf2$" + ROUNDS + "$" + Base64.getEncoder().encodeToString(salt) + "$"
                + Base64.getEncoder().encodeToString(derive(password, salt, ROUNDS));
    }

    /** @param stored null when there is no such account: then never */
    static boolean matches(String password, String stored) {
        if (password.length() > MAX_CHARS) {
            return false;
        }
        String[] parts = (stored == null ? NOBODYS : stored).split("\\$");
        byte[] derived;
        AT_A_TIME.acquireUninterruptibly();
        try {
            derived = derive(password, Base64.getDecoder().decode(parts[2]), Integer.parseInt(parts[1]));
        } finally {
            AT_A_TIME.release();
        }
        return MessageDigest.isEqual(derived, Base64.getDecoder().decode(parts[3])) && stored != null;
    }

    private static byte[] derive(String password, byte[] salt, int rounds) {
        try {
            return SecretKeyFactory.getInstance("PBKDF2WithHmacSHA256")
                    .generateSecret(new PBEKeySpec(password.toCharArray(), salt, rounds, HASH_BITS))
                    .getEncoded();
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every JDK has PBKDF2", e);
        }
    }
}
