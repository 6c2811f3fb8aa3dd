package org.wirekettle.connector;

import static org.testng.Assert.assertEquals;

import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class FileKindTest {
    @DataProvider
    Object[][] files() {
        return new Object[][] {
            {"[{\"ref\": 1}]", "JSON"},
            {"\uFEFF{ \"calls\": [] }", "JSON"},
            {"{\"ref\": 1}\n{\"ref\": 2}\n", "JSON"},
            {"<?xml version=\"1.0\"?><calls/>", "XML"},
            {"  <calls/>", "XML"},
            {"PK\u0003\u0004rest", "a workbook or another ZIP file"},
            {"call_ref;port\nTR-1;TLWRC\n", null},
            {"[ref];port\n1;2\n", null},
            {"<5;wind\n1;2\n", null},
            {"{a};b\n", null},
        };
    }

    @Test(dataProvider = "files")
    public void aFileOfAnotherKindIsToldByItsFirstCharacters(String text, String kind) throws Exception {
        for (Charset c : new Charset[] {StandardCharsets.UTF_8, StandardCharsets.ISO_8859_1}) {
            if (c.newEncoder().canEncode(text)) {
                Path file = Files.createTempFile("kind", ".csv");
                try {
                    Files.writeString(file, text, c);
                    assertEquals(CsvFormat.otherKind(file), Optional.ofNullable(kind), text);
                } finally {
                    Files.delete(file);
                }
            }
        }
    }
}
