package org.wirekettle.connector.file;

import static org.testng.Assert.assertEquals;

import java.io.FilterReader;
import java.io.IOException;
import java.io.Reader;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.List;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Lines, whatever ends them and wherever a piece of the text that is read at a time ends. */
public class TextLinesTest {
    /** A text that comes a few characters at a time. */
    private static Reader dripping(String text, int chars) {
        return new FilterReader(new StringReader(text)) {
            @Override
            public int read(char[] into, int at, int length) throws IOException {
                return super.read(into, at, Math.min(chars, length));
            }
        };
    }

    private static List<String> lines(Reader text) throws IOException {
        List<String> out = new ArrayList<>();
        try (TextLines in = new TextLines(text)) {
            for (String l = in.next(); l != null; l = in.next()) {
                out.add(in.number() + " " + l + (in.isCut() ? " cut" : ""));
            }
        }
        return out;
    }

    @DataProvider
    public Object[][] texts() {
        return new Object[][] {
            {"", List.of()},
            {"a", List.of("1 a")},
            {"a\nb", List.of("1 a", "2 b")},
            {"a\r\nb\r\n", List.of("1 a", "2 b")},
            {"a\rb\r", List.of("1 a", "2 b")},
            {"a\n\r\nb", List.of("1 a", "2 ", "3 b")},
            {"a\r\r\nb", List.of("1 a", "2 ", "3 b")},
            {"\n", List.of("1 ")},
            {"\uFEFFa\n\uFEFFb", List.of("1 a", "2 \uFEFFb")},
        };
    }

    @Test(dataProvider = "texts")
    public void everyEndOfALineEndsIt(String text, List<String> wanted) throws IOException {
        for (int chars : new int[] {1, 2, 3, 100}) {
            assertEquals(lines(dripping(text, chars)), wanted, chars + " at a time");
        }
    }

    @Test
    public void aLineThatIsTooLongIsCutAndTheNextOneIsRead() throws IOException {
        String tooLong = "x".repeat(RecordLimits.MAX_LINE_CHARS + 70_000);
        try (TextLines in = new TextLines(new StringReader(tooLong + "\nnext"))) {
            assertEquals(in.next().length(), RecordLimits.MAX_LINE_CHARS);
            assertEquals(in.isCut(), true);
            assertEquals(in.next(), "next");
            assertEquals(in.isCut(), false);
        }
    }
}
