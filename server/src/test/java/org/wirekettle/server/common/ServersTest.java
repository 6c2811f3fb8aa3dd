package org.wirekettle.server.common;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNotEquals;
import static org.testng.Assert.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import org.testng.annotations.BeforeMethod;
import org.testng.annotations.Test;

/** Who of those that share a folder lives. */
public class ServersTest {
    private Home home;
    private Path folder;

    @BeforeMethod
    public void make() throws Exception {
        folder = Files.createTempDirectory("servers");
        home = new Home(folder.toString());
    }

    @Test
    public void serversOfOneFolderKnowOfEachOther() {
        Servers first = new Servers(home);
        assertFalse(first.hasOthers());
        Servers second = new Servers(new Home(folder.toString()));
        assertNotEquals(first.own(), second.own());
        assertEquals(first.folder(), second.folder(), "the folder keeps its name");
        assertTrue(first.hasOthers());
        assertTrue(first.isAlive(second.own()));
        assertTrue(second.isAlive(second.own()));
    }

    @Test
    public void whoHoldsNoLockIsDeadAndForgotten() throws Exception {
        Servers only = new Servers(home);
        String dead = "00000000-0000-0000-0000-000000000000";
        Path left = Files.createFile(folder.resolve("servers").resolve(dead + ".lock"));
        assertFalse(only.isAlive(dead), "its file is there, but nobody holds it");
        assertFalse(only.hasOthers());
        assertTrue(Files.notExists(left));
        assertFalse(only.isAlive(dead));
        assertFalse(only.isAlive(null), "a run of an earlier version names no server");
        assertFalse(only.isAlive("../secret.key"), "no server is named so");
    }
}
