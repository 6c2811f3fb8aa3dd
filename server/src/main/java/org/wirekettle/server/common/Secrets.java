package org.wirekettle.server.common;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.wirekettle.record.PrivateFiles;

/**
 * Encrypts secrets at rest (AES-256-GCM). The key is a file outside the database, made at first use, readable by the
 * server's user only.
 */
@ApplicationScoped
public class Secrets {
    private static final int KEY_BYTES = 32;
    private static final int NONCE_BYTES = 12;
    private static final int TAG_BITS = 128;

    private final Path keyFile;
    private final SecureRandom random = new SecureRandom();

    Secrets(Home home) {
        this.keyFile = home.root().resolve("secret.key");
    }

    private synchronized SecretKeySpec key() {
        try {
            byte[] made = new byte[KEY_BYTES];
            random.nextBytes(made);
            return new SecretKeySpec(PrivateFiles.once(keyFile, made), "AES");
        } catch (IOException e) {
            throw new UncheckedIOException("the key for secrets cannot be read at " + keyFile, e);
        }
    }

    public byte[] encrypt(String secret) {
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        try {
            Cipher c = Cipher.getInstance("AES/GCM/NoPadding");
            c.init(Cipher.ENCRYPT_MODE, key(), new GCMParameterSpec(TAG_BITS, nonce));
            byte[] sealed = c.doFinal(secret.getBytes(StandardCharsets.UTF_8));
            return ByteBuffer.allocate(nonce.length + sealed.length)
                    .put(nonce)
                    .put(sealed)
                    .array();
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("encrypting failed", e);
        }
    }

    public String decrypt(byte[] sealed) {
        try {
            Cipher c = Cipher.getInstance("AES/GCM/NoPadding");
            c.init(Cipher.DECRYPT_MODE, key(), new GCMParameterSpec(TAG_BITS, sealed, 0, NONCE_BYTES));
            return new String(c.doFinal(sealed, NONCE_BYTES, sealed.length - NONCE_BYTES), StandardCharsets.UTF_8);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("a secret cannot be decrypted; was " + keyFile + " replaced?", e);
        }
    }
}
