package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import javax.crypto.Cipher;
import javax.crypto.Mac;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jspecify.annotations.Nullable;
import org.wirekettle.record.PrivateFiles;

/**
 * Encrypts secrets at rest (AES-256-GCM). The keys are outside the database: a setting of the start, or a file that is
 * made at first use, readable by the server's user only. The first key is today's; with older ones after it what they
 * sealed is read still.
 */
@ApplicationScoped
public class Secrets {
    private static final int KEY_BYTES = 32;
    private static final int NONCE_BYTES = 12;
    private static final int TAG_BITS = 128;
    private static final int SHOWN_BYTES = 4;
    private static final byte[] SHOWN = "what a key is recognised by".getBytes(StandardCharsets.US_ASCII);

    private final Path keyFile;
    private final String given;
    private final SecureRandom random = new SecureRandom();

    /** @param given keys in Base64, today's first; empty for those of the file */
    Secrets(Home home, @ConfigProperty(name = "wk.secret-key") Optional<String> given) {
        this.keyFile = home.root().resolve("secret.key");
        this.given = given.orElse("").strip();
        keys();
    }

    /** Read anew each time: a file that was replaced is noticed. */
    private synchronized List<SecretKeySpec> keys() {
        try {
            if (!given.isEmpty()) {
                return parsed(given, "wk.secret-key");
            }
            byte[] made = new byte[KEY_BYTES];
            random.nextBytes(made);
            byte[] kept = PrivateFiles.once(keyFile, made);
            return kept.length == KEY_BYTES
                    ? List.of(new SecretKeySpec(kept, "AES"))
                    : parsed(new String(kept, StandardCharsets.US_ASCII), keyFile.toString());
        } catch (IOException e) {
            throw new UncheckedIOException("the key for secrets cannot be read at " + keyFile, e);
        }
    }

    private static List<SecretKeySpec> parsed(String text, String where) {
        List<SecretKeySpec> out = new ArrayList<>();
        for (String word : text.strip().split("[\\s,]+")) {
            byte[] key;
            try {
                key = Base64.getDecoder().decode(word);
            } catch (IllegalArgumentException e) {
                key = new byte[0];
            }
            if (key.length != KEY_BYTES) {
                throw new IllegalStateException("key " + (out.size() + 1) + " of " + where + " is none: keys are "
                        + KEY_BYTES + " bytes in Base64 (“openssl rand -base64 32” makes one), today's first");
            }
            out.add(new SecretKeySpec(key, "AES"));
        }
        return out;
    }

    public byte[] encrypt(String secret) {
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        try {
            Cipher c = Cipher.getInstance("AES/GCM/NoPadding");
            c.init(Cipher.ENCRYPT_MODE, keys().get(0), new GCMParameterSpec(TAG_BITS, nonce));
            byte[] sealed = c.doFinal(secret.getBytes(StandardCharsets.UTF_8));
            return ByteBuffer.allocate(nonce.length + sealed.length)
                    .put(nonce)
                    .put(sealed)
                    .array();
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("encrypting failed", e);
        }
    }

    /** @throws IllegalStateException when it was sealed with none of the keys, or was changed */
    public String decrypt(byte[] sealed) {
        for (SecretKeySpec key : keys()) {
            String open = open(sealed, key);
            if (open != null) {
                return open;
            }
        }
        throw new IllegalStateException("a secret cannot be decrypted; was "
                + (given.isEmpty() ? keyFile.toString() : "wk.secret-key") + " replaced?");
    }

    /** Null when it is not of this key: the tag tells (NIST SP 800-38D). */
    private static @Nullable String open(byte[] sealed, SecretKeySpec key) {
        try {
            Cipher c = Cipher.getInstance("AES/GCM/NoPadding");
            c.init(Cipher.DECRYPT_MODE, key, new GCMParameterSpec(TAG_BITS, sealed, 0, NONCE_BYTES));
            return new String(c.doFinal(sealed, NONCE_BYTES, sealed.length - NONCE_BYTES), StandardCharsets.UTF_8);
        } catch (GeneralSecurityException | IllegalArgumentException e) {
            return null;
        }
    }

    /** Whether it is sealed with today's key. */
    public boolean isCurrent(byte[] sealed) {
        return open(sealed, keys().get(0)) != null;
    }

    public boolean isReadable(byte[] sealed) {
        return keys().stream().anyMatch(k -> open(sealed, k) != null);
    }

    public int olderKeys() {
        return keys().size() - 1;
    }

    /** By which today's key is recognised, and nothing more. */
    public String fingerprint() {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(keys().get(0));
            return HexFormat.of().formatHex(mac.doFinal(SHOWN), 0, SHOWN_BYTES);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every JDK has HMAC-SHA-256", e);
        }
    }
}
