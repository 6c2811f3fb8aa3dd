package org.wirekettle.shape;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.util.Random;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** What is recognised without a validator is what the validator says, for values that nobody chose. */
public class QuickCheckTest {
    private static final int VALUES = 4_000;

    private static String restricted(String base, String facets) {
        return "base='x:" + base + "'>" + facets;
    }

    @DataProvider
    public Object[][] types() {
        return new Object[][] {
            {restricted("string", "<x:length value='5'/><x:pattern value='[A-Z]{5}'/>"), "ABCDE"},
            {restricted("string", "<x:pattern value='[A-Z]{2}-\\d{1,4}'/>"), "AB-12"},
            {restricted("token", "<x:pattern value='V[0-9]{4}'/>"), "V4018"},
            {restricted("string", "<x:pattern value='[a-c-]x?'/>"), "-x"},
            {restricted("string", "<x:pattern value='ab|[0-9]{2}'/>"), null},
            {restricted("string", "<x:pattern value='[a-z]+'/>"), null},
            {restricted("token", "<x:minLength value='2'/><x:maxLength value='4'/>"), "abc"},
            {restricted("string", "<x:whiteSpace value='collapse'/><x:minLength value='3'/>"), "a b"},
            {restricted("normalizedString", "<x:maxLength value='3'/>"), "a b"},
            {restricted("string", "<x:enumeration value='usual'/><x:enumeration value='a b'/>"), "usual"},
            {restricted("token", "<x:enumeration value='a b'/><x:enumeration value='1'/>"), "a b"},
            {
                "><x:simpleType><x:restriction base='x:string'><x:enumeration value='usual'/><x:enumeration value='ab'/>"
                        + "</x:restriction></x:simpleType><x:maxLength value='3'/>",
                null
            },
            {restricted("boolean", ""), "true"},
            {restricted("date", ""), "2031-04-02Z"},
            {restricted("dateTime", ""), "2031-04-02T10:11:12.5+01:00"},
            {restricted("positiveInteger", ""), "17"},
            {restricted("nonNegativeInteger", "<x:maxInclusive value='99'/>"), "17"},
            {restricted("int", "<x:enumeration value='1'/>"), null},
            {restricted("decimal", "<x:fractionDigits value='2'/><x:maxInclusive value='30'/>"), "7.5"},
        };
    }

    private static final String[] PIECES = {
        "A",
        "B",
        "-",
        " ",
        "  ",
        "1",
        "2",
        "40",
        "V",
        "x",
        "a",
        "b",
        "ab",
        "usual",
        "true",
        "é",
        "\uD83D\uDEA2",
        "\t",
        "\n",
        "2031-04-02",
        "2031-02-30",
        "T10:11:12",
        ".5",
        "Z",
        "+01:00",
        "+15:00",
        ".",
        "00",
        "0",
        "ABCDE",
        ""
    };

    @Test(dataProvider = "types")
    public void whatIsQuickIsRight(String body, String quick) {
        ScalarType type = ScalarTypeTest.type(body);
        Random random = new Random(31);
        for (int i = 0; i < VALUES; i++) {
            StringBuilder v = new StringBuilder();
            for (int n = random.nextInt(5); n >= 0; n--) {
                v.append(PIECES[random.nextInt(PIECES.length)]);
            }
            if (type.isSurely(v.toString())) {
                assertEquals(type.problemByValidator(v.toString()).orElse(null), null, body + " of “" + v + "”");
            }
        }
        if (quick == null) {
            assertTrue(!type.isSurely("ab") && !type.isSurely("1"), "left to the validator");
        } else {
            assertTrue(type.isSurely(quick), quick);
        }
    }
}
