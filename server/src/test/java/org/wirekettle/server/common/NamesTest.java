package org.wirekettle.server.common;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.expectThrows;

import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Names stand in addresses and in files' names. */
public class NamesTest {
    @DataProvider
    Object[][] good() {
        return new Object[][] {{"tide-desk"}, {"Tide windows, 2031"}, {"größe"}, {"a.b"}, {"x".repeat(80)}, {"船"}};
    }

    @Test(dataProvider = "good")
    public void ordinaryNamesAreTaken(String name) {
        Names.check(name, "data.name");
    }

    @DataProvider
    Object[][] bad() {
        return new Object[][] {
            {""},
            {"  "},
            {"."},
            {".."},
            {"a/b"},
            {"a\\b"},
            {"a?b"},
            {"a#b"},
            {"50%"},
            {"a\nb"},
            {"a\0"},
            {"x".repeat(81)}
        };
    }

    @Test(dataProvider = "bad")
    public void whatAnAddressCannotHoldIsNot(String name) {
        assertEquals(
                expectThrows(Wrong.class, () -> Names.check(name, "data.name")).code(), "data.name");
    }

    @Test
    public void namesOfFilesArePrintableAndShort() {
        assertEquals(Uploads.named("port calls (2).csv"), "port calls (2).csv");
        for (String bad : new String[] {null, "", " ", "a\nb", "x".repeat(10_000)}) {
            assertEquals(expectThrows(Wrong.class, () -> Uploads.named(bad)).code(), "file.name");
        }
    }
}
