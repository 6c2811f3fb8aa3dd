package org.wirekettle.server.common;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Arrays;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** The folder of the server, and what is encrypted with the key in it. */
public class SecretsTest {
    private Path folder;

    @BeforeMethod
    public void folder() throws Exception {
        folder = Files.createTempDirectory("home").resolve("data");
    }

    @Test
    public void aSecretComesBackAndDoesNotShow() throws Exception {
        Home home = new Home(folder.toString());
        Secrets secrets = new Secrets(home);
        byte[] sealed = secrets.encrypt("s3cret & größer");
        assertEquals(secrets.decrypt(sealed), "s3cret & größer");
        assertFalse(new String(sealed, StandardCharsets.ISO_8859_1).contains("s3cret"));
        assertFalse(Arrays.equals(secrets.encrypt("s3cret & größer"), sealed), "the same secret looks different");
        assertEquals(secrets.decrypt(secrets.encrypt("")), "");
        assertEquals(
                PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve("secret.key"))),
                "rw-------");
        assertEquals(new Secrets(home).decrypt(sealed), "s3cret & größer", "a later server has the same key");
    }

    @Test
    public void whatWasChangedOrSealedWithAnotherKeyIsToldAsSuch() throws Exception {
        Secrets secrets = new Secrets(new Home(folder.toString()));
        byte[] sealed = secrets.encrypt("s3cret");
        byte[] changed = sealed.clone();
        changed[sealed.length - 1] ^= 1;
        expectThrows(IllegalStateException.class, () -> secrets.decrypt(changed));
        Files.write(folder.resolve("secret.key"), new byte[32]);
        String said = expectThrows(IllegalStateException.class, () -> secrets.decrypt(sealed))
                .getMessage();
        assertTrue(said.contains("secret.key") && said.contains("replaced"), said);
        assertFalse(said.contains("s3cret"), said);
    }

    @Test
    public void theFolderIsForTheServersUserOnly() throws Exception {
        new Home(folder.toString());
        for (String inside : new String[] {"", "uploads", "targets", "journals", "servers", "logs"}) {
            assertEquals(
                    PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve(inside))), "rwx------");
        }
    }
}
