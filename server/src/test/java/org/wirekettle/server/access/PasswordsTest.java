package org.wirekettle.server.access;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNotEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import org.testng.annotations.Test;
import org.wirekettle.server.common.Wrong;

/** Passwords are kept as slow hashes, and no length of one keeps the server busy. */
public class PasswordsTest {
    @Test
    public void aHashMatchesItsPasswordOnly() {
        String stored = Passwords.hash("a good password");
        assertTrue(Passwords.matches("a good password", stored));
        assertFalse(Passwords.matches("a good passwore", stored));
        assertFalse(Passwords.matches("", stored));
        assertFalse(stored.contains("good"));
        assertNotEquals(Passwords.hash("a good password"), stored, "each has a salt of its own");
    }

    @Test
    public void nobodyMatchesEvenTheMadeUpOne() {
        assertFalse(Passwords.matches("nobody's password", null));
    }

    @Test
    public void lettersOfAllWritingsCount() {
        String stored = Passwords.hash("пароль-для-порта");
        assertTrue(Passwords.matches("пароль-для-порта", stored));
        assertFalse(Passwords.matches("????-???-?????", stored));
    }

    @Test
    public void lengthHasItsLimits() {
        for (String bad : new String[] {null, "", "ninechars", "x".repeat(501)}) {
            assertEquals(expectThrows(Wrong.class, () -> Passwords.check(bad)).code(), "account.password");
        }
        Passwords.check("ten chars!");
        Passwords.check("x".repeat(500));
        assertFalse(Passwords.matches("x".repeat(10_000_000), Passwords.hash("x".repeat(500))));
    }
}
