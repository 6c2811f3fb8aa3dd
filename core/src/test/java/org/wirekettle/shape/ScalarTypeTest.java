package org.wirekettle.shape;

import static org.testng.Assert.assertEquals;

import java.io.StringReader;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import javax.xml.transform.stream.StreamSource;
import javax.xml.validation.Validator;
import org.apache.xerces.jaxp.validation.XMLSchemaFactory;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.xml.XmlElement;
import org.xml.sax.SAXException;

/** Values against types: our answer is the validator's, whichever way it was found. */
public class ScalarTypeTest {
    private static String schema(String restriction) {
        return "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'><x:element name='v'><x:simpleType><x:restriction "
                + restriction + "</x:restriction></x:simpleType></x:element></x:schema>";
    }

    static ScalarType type(String restriction) {
        String text = schema(restriction);
        XmlSchemas.Builder b = new XmlSchemas.Builder(new ArrayList<>(), (base, ref) -> ref);
        b.add("v.xsd", XmlElement.parse("v.xsd", text), text);
        return b.compile().element(new QualifiedName("", "v")).orElseThrow().scalar();
    }

    @DataProvider
    public Object[][] types() {
        return new Object[][] {
            {"base='x:int'>"},
            {"base='x:decimal'><x:minInclusive value='0'/><x:maxInclusive value='30'/><x:fractionDigits value='2'/>"},
            {"base='x:integer'><x:minInclusive value='-5'/><x:maxInclusive value='100'/>"},
            {"base='x:dateTime'>"},
            {"base='x:string'><x:minLength value='1'/><x:maxLength value='4'/>"},
            {"base='x:string'><x:length value='3'/><x:pattern value='[A-Z]+'/>"},
            {"base='x:long'>"},
            {"base='x:int'><x:enumeration value='1'/><x:enumeration value='12'/>"},
            {"base='x:decimal'><x:totalDigits value='3'/>"},
            {"base='x:int'><x:pattern value='1.*'/>"},
            {"base='x:unsignedByte'>"},
            {"base='x:token'><x:maxLength value='3'/>"}
        };
    }

    /** Random short texts from an alphabet that makes near misses likely, and values at the limits. */
    @Test(dataProvider = "types")
    public void sameAnswerAsAnIndependentValidation(String restriction) throws Exception {
        ScalarType type = type(restriction);
        Validator validator = new XMLSchemaFactory()
                .newSchema(new StreamSource(new StringReader(schema(restriction))))
                .newValidator();
        List<String> values = new ArrayList<>(List.of(
                "",
                "0",
                "-0",
                "30",
                "30.00",
                "30.01",
                "29.999",
                "-5",
                "-6",
                "100",
                "101",
                "2147483647",
                "2147483648",
                "-2147483648",
                "999999999",
                "9223372036854775807",
                "9223372036854775808",
                "2031-04-02T21:40:00",
                "2031-04-02T21:40:00Z",
                "2031-02-29T21:40:00",
                "2032-02-29T24:00:00",
                "0000-01-01T00:00:00",
                "2031-13-01T00:00:00",
                "2031-04-31T00:00:00",
                "2031-04-02T21:40:60",
                "+1",
                "1.",
                ".5",
                "1e3",
                " 1 ",
                "ABC",
                "ABCD",
                "abcde",
                "\ud83d\ude00a",
                "\ud83d\ude00\ud83d\ude00\ud83d\ude00\ud83d\ude00",
                "255",
                "256",
                "12",
                "1",
                "123.4"));
        Random random = new Random(restriction.hashCode());
        String alphabet = "0123456789.-+ TZ:A";
        for (int i = 0; i < 3_000; i++) {
            StringBuilder v = new StringBuilder();
            for (int n = random.nextInt(7); n >= 0; n--) {
                v.append(alphabet.charAt(random.nextInt(alphabet.length())));
            }
            values.add(v.toString());
        }
        String moment = "2031-04-30T21:40:59.120+05:30";
        for (int i = 0; i < 2_000; i++) {
            int at = random.nextInt(moment.length());
            String c = String.valueOf(alphabet.charAt(random.nextInt(alphabet.length())));
            String upTo = moment.substring(0, at + 1);
            // Something else in its place, something more, or the end there.
            values.add(
                    switch (i % 4) {
                        case 0 -> moment.substring(0, at) + c + moment.substring(at + 1);
                        case 1 -> upTo + c + moment.substring(at + 1);
                        case 2 -> upTo + c;
                        default -> upTo;
                    });
        }
        for (String v : values) {
            boolean valid;
            try {
                validator.validate(new StreamSource(new StringReader("<v>" + v + "</v>")));
                valid = true;
            } catch (SAXException e) {
                valid = false;
            }
            assertEquals(type.problem(v).isEmpty(), valid, restriction + " with “" + v + "”: " + type.problem(v));
        }
    }

    @Test
    public void problemsAreInWords() {
        assertEquals(
                type("base='x:decimal'><x:maxInclusive value='30'/>")
                        .problem("31")
                        .orElseThrow(),
                "“31” is more than 30");
        assertEquals(
                type("base='x:string'><x:maxLength value='2'/>").problem("abc").orElseThrow(),
                "“abc” is longer than 2 characters");
        assertEquals(
                type("base='x:string'><x:enumeration value='a'/><x:enumeration value='b'/>")
                        .problem("c")
                        .orElseThrow(),
                "“c” is none of a, b");
        assertEquals(
                type("base='x:string'><x:pattern value='[A-Z]+'/>").problem("c").orElseThrow(),
                "“c” does not match the pattern [A-Z]+");
        assertEquals(ScalarType.builtIn("boolean").problem("yes").orElseThrow(), "“yes” is not a boolean");
        assertEquals(
                ScalarType.builtIn("int").problem("1".repeat(100)).orElseThrow(),
                "“" + "1".repeat(60) + "…” is more than 2147483647");
    }

    @Test
    public void limitsAreInWords() {
        assertEquals(
                type("base='x:decimal'><x:minInclusive value='0'/><x:maxInclusive value='30'/>")
                        .limits(),
                "0–30");
        assertEquals(
                type("base='x:string'><x:minLength value='1'/><x:maxLength value='4'/>")
                        .limits(),
                "1–4 characters");
        assertEquals(
                type("base='x:string'><x:enumeration value='a'/><x:enumeration value='b'/>")
                        .limits(),
                "one of a, b");
        assertEquals(type("base='x:int'>").limits(), "");
    }
}
