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
import java.util.Base64;
import java.util.Optional;
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
        Secrets secrets = new Secrets(home, Optional.empty());
        byte[] sealed = secrets.encrypt("s3cret & größer");
        assertEquals(secrets.decrypt(sealed), "s3cret & größer");
        assertFalse(new String(sealed, StandardCharsets.ISO_8859_1).contains("s3cret"));
        assertFalse(Arrays.equals(secrets.encrypt("s3cret & größer"), sealed), "the same secret looks different");
        assertEquals(secrets.decrypt(secrets.encrypt("")), "");
        assertEquals(
                PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve("secret.key"))),
                "rw-------");
        assertEquals(
                new Secrets(home, Optional.empty()).decrypt(sealed),
                "s3cret & größer",
                "a later server has the same key");
    }

    @Test
    public void whatWasChangedOrSealedWithAnotherKeyIsToldAsSuch() throws Exception {
        Secrets secrets = new Secrets(new Home(folder.toString()), Optional.empty());
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

    private static String key(int of) {
        byte[] key = new byte[32];
        Arrays.fill(key, (byte) of);
        return Base64.getEncoder().encodeToString(key);
    }

    @Test
    public void whatAnOlderKeySealedIsReadUntilThatKeyIsTakenAway() throws Exception {
        Home home = new Home(folder.toString());
        Secrets before = new Secrets(home, Optional.of(key(1)));
        byte[] sealed = before.encrypt("s3cret");
        assertFalse(Files.exists(folder.resolve("secret.key")), "no file is made where the start has the key");
        Secrets both = new Secrets(home, Optional.of(key(2) + "," + key(1)));
        assertEquals(both.decrypt(sealed), "s3cret");
        assertFalse(both.isCurrent(sealed));
        assertTrue(both.isReadable(sealed));
        byte[] anew = both.encrypt("s3cret");
        Secrets after = new Secrets(home, Optional.of(key(2)));
        assertTrue(after.isCurrent(anew));
        assertFalse(after.isReadable(sealed));
        assertEquals(after.fingerprint(), both.fingerprint());
        assertFalse(after.fingerprint().equals(before.fingerprint()));
        assertEquals(both.olderKeys() + " " + after.olderKeys(), "1 0");
    }

    @Test
    public void aFileMayHaveSeveralKeysAndOneThatIsNoneIsToldAtTheStart() throws Exception {
        Home home = new Home(folder.toString());
        byte[] sealed = new Secrets(home, Optional.empty()).encrypt("s3cret");
        String first = Base64.getEncoder().encodeToString(Files.readAllBytes(folder.resolve("secret.key")));
        Files.writeString(folder.resolve("secret.key"), key(3) + "\n" + first + "\n");
        assertEquals(new Secrets(home, Optional.empty()).decrypt(sealed), "s3cret");
        Files.writeString(folder.resolve("secret.key"), key(3) + "\nshort\n");
        String said = expectThrows(IllegalStateException.class, () -> new Secrets(home, Optional.empty()))
                .getMessage();
        assertTrue(said.startsWith("key 2 of ") && said.contains("32 bytes in Base64"), said);
        assertFalse(said.contains(key(3)), said);
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
