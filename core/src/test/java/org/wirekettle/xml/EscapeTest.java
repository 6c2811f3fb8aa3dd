package org.wirekettle.xml;

import static org.testng.Assert.assertEquals;

import java.io.StringReader;
import java.util.Random;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamReader;
import org.testng.annotations.Test;

/** What is escaped is read back by a parser as what it was. */
public class EscapeTest {
    private static String text(String s) {
        StringBuilder out = new StringBuilder();
        Escape.text(s, out);
        return out.toString();
    }

    private static String[] read(String attribute, String text) throws Exception {
        XMLStreamReader in = XMLInputFactory.newFactory()
                .createXMLStreamReader(new StringReader("<a b=\"" + attribute + "\">" + text + "</a>"));
        in.nextTag();
        String value = in.getAttributeValue(0);
        return new String[] {value, in.getElementText()};
    }

    @Test
    public void anElementsTextAndAnAttributesValueDiffer() {
        assertEquals(text("a < b & \"c\" > d\n\t"), "a &lt; b &amp; \"c\" &gt; d\n\t");
        assertEquals(Escape.xml("a < b & \"c\"\n\t"), "a &lt; b &amp; &quot;c&quot;&#10;&#9;");
        assertEquals(text("plain"), "plain");
    }

    @Test
    public void lineEndsAndBlanksSurviveTheParser() throws Exception {
        String odd = " \r\n two\r lines\t and ]]> more ";
        String[] read = read(Escape.xml(odd), text(odd));
        assertEquals(read[0], odd);
        assertEquals(read[1], odd);
    }

    @Test
    public void whatXmlCannotHoldIsReplaced() throws Exception {
        String bad = "a\u0000b\u001Fc\uFFFEd\uD800e\uDC00f";
        assertEquals(text(bad), "a\uFFFDb\uFFFDc\uFFFDd\uFFFDe\uFFFDf");
        assertEquals(read(Escape.xml(bad), text(bad))[1], "a\uFFFDb\uFFFDc\uFFFDd\uFFFDe\uFFFDf");
        assertEquals(text("\uD83D\uDEA2"), "\uD83D\uDEA2", "a ship is two chars and one character");
    }

    @Test
    public void anyTextComesBack() throws Exception {
        Random random = new Random(7);
        String letters = "ab<>&\"'\n\r\t ]\u00e9\u4e2d\u2028";
        for (int i = 0; i < 2_000; i++) {
            StringBuilder s = new StringBuilder();
            for (int n = random.nextInt(12); n >= 0; n--) {
                s.append(letters.charAt(random.nextInt(letters.length())));
            }
            String[] read = read(Escape.xml(s.toString()), text(s.toString()));
            assertEquals(read[0], s.toString());
            assertEquals(read[1], s.toString());
        }
    }
}
