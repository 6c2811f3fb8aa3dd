package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Every way in which a field can change, rated from both sides: of who sends it, and of who is sent it. */
public class ShapeChangesTest {
    private static final String SENT = "Ask/f";
    private static final String RECEIVED = "Tell/f";

    private static Contract contract(String wsdl) {
        return WsdlReader.read("t.wsdl", Documents.of(Map.of("t.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
    }

    /** A contract whose request and answer both hold the same content. */
    private static String wsdl(String content) {
        return """
            <definitions name="Tides" targetNamespace="urn:t" xmlns="http://schemas.xmlsoap.org/wsdl/"
             xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
             xmlns:t="urn:t">
              <types><xs:schema targetNamespace="urn:t" elementFormDefault="qualified">
                <xs:complexType name="Cargo"/>
                <xs:complexType name="Bulk"><xs:complexContent><xs:extension base="t:Cargo"/></xs:complexContent>
                </xs:complexType>
                <xs:element name="Ask"><xs:complexType>%1$s</xs:complexType></xs:element>
                <xs:element name="Tell"><xs:complexType>%1$s</xs:complexType></xs:element>
              </xs:schema></types>
              <message name="Ask"><part name="b" element="t:Ask"/></message>
              <message name="Tell"><part name="b" element="t:Tell"/></message>
              <portType name="P"><operation name="ask"><input message="t:Ask"/><output message="t:Tell"/></operation>
              </portType>
              <binding name="B" type="t:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
                <operation name="ask"><soap:operation soapAction="a"/><input><soap:body use="literal"/></input>
                  <output><soap:body use="literal"/></output></operation></binding>
              <service name="S"><port name="Port" binding="t:B"><soap:address location="http://tides.example.net/1"/>
              </port></service>
            </definitions>
            """.formatted(content);
    }

    private static String f(String attributes) {
        return "<xs:sequence><xs:element name='f' " + attributes + "/></xs:sequence>";
    }

    private static String values(String... allowed) {
        StringBuilder out = new StringBuilder(
                "<xs:sequence><xs:element name='f'><xs:simpleType><xs:restriction" + " base='xs:string'>");
        for (String v : allowed) {
            out.append("<xs:enumeration value='").append(v).append("'/>");
        }
        return out + "</xs:restriction></xs:simpleType></xs:element></xs:sequence>";
    }

    private static String limited(String facets) {
        return "<xs:sequence><xs:element name='f'><xs:simpleType><xs:restriction base='xs:int'>" + facets
                + "</xs:restriction></xs:simpleType></xs:element></xs:sequence>";
    }

    /** Before, after, then what changes for the request and for the answer. */
    @DataProvider
    Object[][] changes() {
        String text = f("type='xs:string'");
        String number = f("type='xs:int'");
        return new Object[][] {
            {text, f("type='xs:string' fixed='A'"), "fixed value null -> A breaks", "fixed value null -> A"},
            {f("type='xs:string' fixed='A'"), text, "fixed value A -> null", "fixed value A -> null"},
            {
                text,
                f("type='xs:string' nillable='true'"),
                "nil never nil -> may be nil",
                "nil never nil -> may be nil breaks"
            },
            {
                f("type='xs:string' nillable='true'"),
                text,
                "nil may be nil -> never nil breaks",
                "nil may be nil -> never nil"
            },
            {number, f("type='xs:long'"), "type int -> long", "type int -> long breaks"},
            {number, text, "type int -> string", "type int -> string breaks"},
            {
                f("type='xs:unsignedByte'"),
                f("type='xs:nonNegativeInteger'"),
                "type unsignedByte -> nonNegativeInteger",
                "type unsignedByte -> nonNegativeInteger breaks"
            },
            {f("type='xs:double'"), f("type='xs:float'"), "type double -> float breaks", "type double -> float"},
            {
                f("type='xs:date'"),
                f("type='xs:dateTime'"),
                "type date -> dateTime breaks",
                "type date -> dateTime breaks"
            },
            {text, f("type='t:Bulk'"), "type string -> Bulk breaks", "type string -> Bulk breaks"},
            {
                values("A", "B"),
                values("A", "C"),
                "values B -> null breaks; values null -> C",
                "values B -> null; values null -> C breaks"
            },
            {text, values("A"), "values any -> A breaks", "values any -> A"},
            {values("A"), text, "values A -> any", "values A -> any breaks"},
            {limited(""), limited("<xs:maxInclusive value='9'/>"), "limits  -> at most 9 breaks", "limits  -> at most 9"
            },
            {limited("<xs:maxInclusive value='9'/>"), limited(""), "limits at most 9 -> ", "limits at most 9 ->  breaks"
            },
            {f("type='xs:int' minOccurs='0'"), number, "occurs 0..1 -> 1 breaks", "occurs 0..1 -> 1"},
            {
                f("type='xs:int' minOccurs='2' maxOccurs='4'"),
                f("type='xs:int' minOccurs='3' maxOccurs='4'"),
                "occurs 2..4 -> 3..4 breaks",
                "occurs 2..4 -> 3..4"
            },
            {
                f("type='xs:int' maxOccurs='4'"),
                f("type='xs:int' maxOccurs='2'"),
                "occurs 1..4 -> 1..2 breaks",
                "occurs 1..4 -> 1..2"
            },
            {
                number + "<xs:attribute name='a' type='xs:int'/>",
                number,
                "attribute int -> null breaks",
                "attribute int -> null breaks"
            },
            {
                number,
                number + "<xs:attribute name='a' type='xs:int' use='required'/>",
                "attribute null -> int, required breaks",
                "attribute null -> int, required"
            },
            {
                f("type='xs:int'"),
                f("type='xs:int' form='unqualified'"),
                "namespace urn:t ->  breaks",
                "namespace urn:t ->  breaks"
            },
        };
    }

    @Test(dataProvider = "changes")
    public void aChangeIsRatedFromBothSides(String before, String after, String sent, String received) {
        Comparison.Result r = Comparison.of(contract(wsdl(before)), contract(wsdl(after)));
        assertEquals(said(r, "request"), sent);
        assertEquals(said(r, "answer"), received);
        assertTrue(r.changes().stream().allMatch(c -> c.why() != null && c.why().endsWith(".")), r.toString());
        assertTrue(
                r.changes().stream()
                        .allMatch(c -> c.path().startsWith("Ask/") || c.path().startsWith("Tell/")),
                SENT + " and " + RECEIVED + " are the places: " + r);
    }

    private static String said(Comparison.Result r, String part) {
        List<String> out = r.changes().stream()
                .filter(c -> part.equals(c.part()))
                .map(c -> c.what() + " " + c.before() + " -> " + c.after() + (c.isBreaking() ? " breaks" : ""))
                .toList();
        return String.join("; ", out);
    }

    @Test
    public void aKindThatComesIsHarmlessToSendAndNewToReceive() {
        String cargo = f("type='t:Cargo'");
        String reefer = "<xs:complexType name=\"Reefer\"><xs:complexContent><xs:extension base=\"t:Cargo\"/>"
                + "</xs:complexContent></xs:complexType>";
        String before = wsdl(cargo);
        String after = before.replace("<xs:complexType name=\"Cargo\"/>", "<xs:complexType name=\"Cargo\"/>" + reefer);
        Comparison.Result come = Comparison.of(contract(before), contract(after));
        assertEquals(said(come, "request"), "kind null -> Reefer");
        assertEquals(said(come, "answer"), "kind null -> Reefer breaks");
        Comparison.Result gone = Comparison.of(contract(after), contract(before));
        assertEquals(said(gone, "request"), "kind Reefer -> null breaks");
        assertEquals(said(gone, "answer"), "kind Reefer -> null");
    }

    /** What is said of the contract around its messages. */
    @DataProvider
    Object[][] around() {
        return new Object[][] {
            {"soapAction=\"a\"", "soapAction=\"b\"", "action a -> b breaks"},
            {
                "location=\"http://tides.example.net/1\"",
                "location=\"http://tides.example.net/2\"",
                "address http://tides.example.net/1 -> http://tides.example.net/2"
            },
            {"<output message=\"t:Tell\"/>", "", "direction REQUEST_ANSWER -> ONE_WAY breaks"},
            {
                "http://schemas.xmlsoap.org/wsdl/soap/",
                "http://schemas.xmlsoap.org/wsdl/soap12/",
                "protocol SOAP 1.1 -> SOAP 1.2 breaks"
            },
            {"name=\"Port\"", "name=\"Quay\"", "port SOAP 1.1 -> null breaks; port null -> SOAP 1.1"},
        };
    }

    @Test(dataProvider = "around")
    public void whatIsAroundTheMessagesIsComparedToo(String from, String to, String said) {
        String before = wsdl(f("type='xs:int'"));
        Comparison.Result r = Comparison.of(contract(before), contract(before.replace(from, to)));
        List<String> out = r.changes().stream()
                .map(c -> c.what() + " " + c.before() + " -> " + c.after() + (c.isBreaking() ? " breaks" : ""))
                .toList();
        assertEquals(String.join("; ", out), said);
    }

    @Test
    public void aFaultThatComesOrGoesIsNamed() {
        String before = wsdl(f("type='xs:int'"));
        String after = before.replace(
                        "<message name=\"Ask\">",
                        "<message name=\"Closed\"><part name=\"b\" element=\"t:Tell\"/></message>"
                                + "<message name=\"Ask\">")
                .replace(
                        "<output message=\"t:Tell\"/>",
                        "<output message=\"t:Tell\"/><fault name=\"Closed\" message=\"t:Closed\"/>");
        Comparison.Result come = Comparison.of(contract(before), contract(after));
        assertEquals(
                come.changes().stream()
                        .map(c -> c.kind() + " " + c.what() + " " + c.after())
                        .toList(),
                List.of("ADDED fault Closed"));
        Comparison.Result gone = Comparison.of(contract(after), contract(before));
        assertEquals(
                gone.changes().stream()
                        .map(c -> c.kind() + " " + c.what() + " " + c.before())
                        .toList(),
                List.of("REMOVED fault Closed"));
        assertTrue(gone.changes().stream().noneMatch(Comparison.Change::isBreaking));
    }

    @Test
    public void whatHoldsItselfIsComparedOnce() {
        String self = "<xs:sequence><xs:element name='f' type='t:Part'/></xs:sequence>";
        String part = "<xs:complexType name=\"Part\"><xs:sequence><xs:element name=\"%s\" type=\"xs:int\"/>"
                + "<xs:element name=\"inner\" type=\"t:Part\" minOccurs=\"0\"/></xs:sequence></xs:complexType>";
        String shell = wsdl(self);
        String at = "<xs:complexType name=\"Cargo\"/>";
        Comparison.Result r = Comparison.of(
                contract(shell.replace(at, at + part.formatted("weight"))),
                contract(shell.replace(at, at + part.formatted("weightKg"))));
        assertEquals(
                r.renames().stream().map(x -> x.from() + " " + x.to()).toList(),
                List.of("Ask/f/weight Ask/f/weightKg", "Tell/f/weight Tell/f/weightKg"));
        assertEquals(
                r.changes().stream()
                        .map(c -> c.kind() + " " + c.path() + " " + c.alsoIn())
                        .toList(),
                List.of("REMOVED Ask/f/weight 1", "ADDED Ask/f/weightKg 0", "ADDED Tell/f/weightKg 0"),
                "what breaks both ways is said once, with the number of its other places");
    }
}
