package org.wirekettle.mapping;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.testng.annotations.Test;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.record.Node;
import org.wirekettle.shape.Shape;

/** Fills written in one pass give what their rows give. */
public class PlainFillTest {
    private static final Expressions EXPRESSIONS = new Expressions();
    private static final byte[] HEAD = "<head é>".getBytes(StandardCharsets.UTF_8);
    private static final byte[] TAIL = "</head>".getBytes(StandardCharsets.UTF_8);
    private static final String[] FIELDS = {"a", "b", "c", "d", "e", "f"};
    private static final String[] VALUES = {
        "",
        "",
        " ",
        "7",
        "0",
        "-3.50",
        " 8 ",
        "12345678901234567890",
        "true",
        "2031-04-02",
        "2031-04-02T10:15:00",
        "2031-02-30T10:15:00",
        "ABCDE",
        "abcde",
        "wet",
        "dry",
        "Grey Plover",
        "a<b & c>\"d\"",
        "é 漢 😀",
        "\uD83D",
        "\u2003",
        "line\r\nline\t.",
        "\u0001",
        "x".repeat(300)
    };

    private final Contract contract = contract();
    private final Shape target =
            contract.ports().get(0).operations().get(0).request().root();

    private static Contract contract() {
        String leaves = "<x:element name='text' type='x:string'/><x:element name='mayBe' minOccurs='0'"
                + " nillable='true' type='x:string'/><x:element name='count' minOccurs='0' type='x:int'/>"
                + "<x:element name='depth' minOccurs='0' type='x:decimal'/><x:element name='day' minOccurs='0'"
                + " type='x:date'/><x:element name='at' minOccurs='0' type='x:dateTime'/><x:element name='yes'"
                + " minOccurs='0' type='x:boolean'/><x:element name='code' minOccurs='0'><x:simpleType>"
                + "<x:restriction base='x:string'><x:pattern value='[A-Z]{5}'/></x:restriction></x:simpleType>"
                + "</x:element><x:element name='list' minOccurs='0'><x:simpleType><x:restriction base='x:token'>"
                + "<x:enumeration value='wet'/><x:enumeration value='dry'/></x:restriction></x:simpleType>"
                + "</x:element><x:element name='short' minOccurs='0'><x:simpleType><x:restriction base='x:string'>"
                + "<x:maxLength value='9'/></x:restriction></x:simpleType></x:element>";
        String inner = "<x:complexType><x:sequence>" + leaves + "</x:sequence><x:attribute name='no' fixed='n&lt;1'"
                + " use='required' type='x:string'/></x:complexType>";
        String schema = "<x:element name='Do'><x:complexType><x:sequence>" + leaves + "<x:element name='must'>" + inner
                + "</x:element><x:element name='may' minOccurs='0'>" + inner + "</x:element><x:element name='deep'"
                + " minOccurs='0'><x:complexType><x:sequence><x:element name='in' minOccurs='0'>" + inner
                + "</x:element><x:element name='last' minOccurs='0' maxOccurs='3' type='x:string'/></x:sequence>"
                + "</x:complexType></x:element><x:choice minOccurs='0'><x:element name='phone' type='x:string'/>"
                + "<x:element name='no' type='x:int'/></x:choice><x:element name='hollow'><x:complexType><x:sequence>"
                + "<x:element name='x' minOccurs='0' type='x:string'/></x:sequence></x:complexType></x:element>"
                + "</x:sequence></x:complexType></x:element><x:element name='R' type='x:string'/>";
        String wsdl = "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/'"
                + " xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema'"
                + " xmlns:t='urn:t' targetNamespace='urn:t'><w:types><x:schema targetNamespace='urn:t'"
                + " elementFormDefault='qualified'>" + schema
                + "</x:schema></w:types><w:message name='In'><w:part name='p' element='t:Do'/></w:message>"
                + "<w:portType name='PT'><w:operation name='Do'><w:input message='t:In'/></w:operation></w:portType>"
                + "<w:binding name='B' type='t:PT'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/>"
                + "<w:operation name='Do'><w:input><s:body use='literal'/></w:input></w:operation></w:binding>"
                + "<w:service name='S'><w:port name='P' binding='t:B'><s:address location='http://service.test/'/>"
                + "</w:port></w:service></w:definitions>";
        return WsdlReader.read("a.wsdl", Documents.of(Map.of("a.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
    }

    private Fill fill(List<Rule> rules) {
        return Fill.compile(new Mapping(rules), target, EXPRESSIONS).within(HEAD, TAIL);
    }

    /** @return whether it was written in one pass */
    private static boolean isSame(Fill fill, Node record) throws Exception {
        Scope scope = Scope.of(record);
        Fill.Filled rows = fill.byRows(scope);
        Fill.Filled run = fill.run(scope);
        assertEquals(run.problems(), rows.problems());
        if (run.whole() == null) {
            assertEquals(run.body(), rows.body());
            return false;
        }
        assertEquals(run.problems(), List.of());
        String whole =
                new String(HEAD, StandardCharsets.UTF_8) + rows.body() + new String(TAIL, StandardCharsets.UTF_8);
        assertEquals(new String(run.whole(), StandardCharsets.UTF_8), whole);
        MessageDigest one = MessageDigest.getInstance("SHA-256");
        MessageDigest other = MessageDigest.getInstance("SHA-256");
        run.body(one);
        rows.body(other);
        assertTrue(Arrays.equals(one.digest(), other.digest()));
        assertEquals(run.body(), rows.body());
        return true;
    }

    @Test
    public void whatOnePassWritesIsWhatTheRowsWrite() throws Exception {
        Random random = new Random(20311);
        List<String> leaves = List.of("text", "mayBe", "count", "depth", "day", "at", "yes", "code", "list", "short");
        List<String> paths = new ArrayList<>(
                List.of("Do/choice/phone", "Do/choice/no", "Do/hollow/x", "Do/deep/last", "Do/deep/last[2]"));
        for (String in : List.of("Do/", "Do/must/", "Do/may/", "Do/deep/in/")) {
            leaves.forEach(l -> paths.add(in + l));
        }
        int fills = 0;
        int passes = 0;
        for (int i = 0; i < 3_000; i++) {
            List<Rule> rules = new ArrayList<>(List.of(rule("Do/text", random), rule("Do/must/text", random)));
            for (int r = random.nextInt(12); r > 0; r--) {
                String path = paths.get(random.nextInt(paths.size()));
                if (rules.stream().noneMatch(known -> known.path().equals(path))) {
                    rules.add(rule(path, random));
                }
            }
            Fill fill = fill(rules);
            if (!fill.problems().isEmpty()) {
                continue;
            }
            fills++;
            for (int n = 0; n < 6; n++) {
                passes += isSame(fill, record(random)) ? 1 : 0;
            }
        }
        assertTrue(fills > 200, fills + " fills");
        assertTrue(passes > fills / 2, passes + " of " + fills * 6 + " messages");
    }

    private static Rule rule(String path, Random random) {
        WhenEmpty when = random.nextInt(8) > 0 ? null : random.nextBoolean() ? WhenEmpty.KEEP : WhenEmpty.NIL;
        String field = FIELDS[random.nextInt(FIELDS.length)];
        return switch (random.nextInt(8)) {
            case 0 -> new Rule(path, null, VALUES[random.nextInt(VALUES.length)], null, null, null, null);
            case 1 -> new Rule(path, "$record/" + field, null, null, null, null, when);
            // Fails over most values.
            case 2 -> new Rule(path, "wk:decimal(" + field + ", ',')", null, null, null, null, when);
            default -> new Rule(path, field, null, null, null, null, when);
        };
    }

    private static Node record(Random random) {
        Node out = new Node("", "record");
        boolean isGood = random.nextBoolean();
        for (String f : FIELDS) {
            if (isGood || random.nextInt(8) > 0) {
                String value = isGood ? random.nextBoolean() ? "7" : "" : VALUES[random.nextInt(VALUES.length)];
                out.add(Node.leaf(f, value));
            }
            if (random.nextInt(60) == 0) {
                out.add(Node.leaf(f, "once more"));
            }
        }
        if (random.nextInt(20) == 0) {
            Node nested = new Node("", "a").add(Node.leaf("x", "in")).add(Node.leaf("x", "side"));
            out.add(nested);
        }
        return out;
    }

    @Test
    public void whatIsRepeatedOrOfAKindByRuleIsNotPlain() {
        List<Rule> plain = List.of(Rule.xpath("Do/text", "a"), Rule.xpath("Do/must/text", "b"));
        assertTrue(fill(plain).isPlain());
        List<Rule> repeated = new ArrayList<>(plain);
        repeated.add(new Rule("Do/deep/last", ".", null, "c", null, null, null));
        assertFalse(fill(repeated).isPlain());
    }

    @Test
    public void messagesThatStandAloneAreNotWhole() {
        Fill fill = Fill.compile(
                new Mapping(List.of(Rule.xpath("Do/text", "a"), Rule.xpath("Do/must/text", "b"))), target, EXPRESSIONS);
        Fill.Filled f = fill.run(Scope.of(Node.record(Map.of("a", "1", "b", "2"))));
        assertNull(f.whole());
        assertTrue(f.body().contains("text>1</"), f.body());
    }

    @Test
    public void aMessageWithoutEndIsSaidAsByRows() throws Exception {
        Fill fill = fill(List.of(
                Rule.xpath("Do/text", "a"),
                Rule.xpath("Do/must/text", "a"),
                Rule.xpath("Do/may/text", "a"),
                Rule.xpath("Do/deep/last", "a"),
                Rule.xpath("Do/choice/phone", "a")));
        Fill.Filled f = fill.run(Scope.of(Node.record(Map.of("a", "x".repeat(Running.MAX_CHARS / 4)))));
        assertNull(f.whole());
        assertEquals(f.problems().get(0).code(), "limit");
        assertFalse(
                isSame(fill, Node.record(Map.of("a", "&".repeat(Running.MAX_CHARS / 10)))), "too long once escaped");
    }

    @Test
    public void longTextsHaveRoom() throws Exception {
        Fill fill = fill(List.of(Rule.xpath("Do/text", "a"), Rule.xpath("Do/must/text", "b")));
        for (int length : new int[] {10, 9_000, 700_000, 20}) {
            assertTrue(isSame(fill, Node.record(Map.of("a", "é&".repeat(length), "b", "y".repeat(length)))));
        }
    }
}
