package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.testng.annotations.Test;
import org.wirekettle.contract.Comparison.Change;

/** What changed between two versions, and which of it can break callers. */
public class ComparisonTest {
    private static Contract contract(String fields, String answerFields) {
        String wsdl = """
            <definitions name="Tides" targetNamespace="urn:t" xmlns="http://schemas.xmlsoap.org/wsdl/"
            xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
            xmlns:t="urn:t">
              <types><xs:schema targetNamespace="urn:t" elementFormDefault="qualified">
                <xs:complexType name="Ship"><xs:sequence>%s</xs:sequence></xs:complexType>
                <xs:element name="Ask"><xs:complexType><xs:sequence><xs:element name="ship" type="t:Ship"/><xs:element
                name="tug" type="t:Ship" minOccurs="0"/></xs:sequence></xs:complexType></xs:element>
                <xs:element name="Tell"><xs:complexType><xs:sequence>%s</xs:sequence></xs:complexType></xs:element>
              </xs:schema></types>
              <message name="Ask"><part name="b" element="t:Ask"/></message><message name="Tell"><part name="b"
              element="t:Tell"/></message>
              <portType name="P"><operation name="ask"><input message="t:Ask"/><output message="t:Tell"/></operation>
              </portType>
              <binding name="B" type="t:P"><soap:binding transport="http://schemas.xmlsoap.org/soap/http"/><operation
              name="ask"><soap:operation soapAction="a"/><input><soap:body use="literal"/></input><output><soap:body
              use="literal"/></output></operation></binding>
              <service name="S"><port name="Port" binding="t:B"><soap:address location="http://tides.example.net/1"/>
              </port></service>
            </definitions>\
            """.formatted(fields, answerFields);
        return WsdlReader.read("t.wsdl", Documents.of(Map.of("t.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
    }

    private static String field(String name, String type, String more) {
        return "<xs:element name=\"" + name + "\" type=\"xs:" + type + "\" " + more + "/>";
    }

    private static List<String> changes(String before, String after, boolean inAnswer) {
        String fixed = field("x", "int", "");
        Comparison.Result r = inAnswer
                ? Comparison.of(contract(fixed, before), contract(fixed, after))
                : Comparison.of(contract(before, fixed), contract(after, fixed));
        return r.changes().stream()
                .map(c -> c.what() + " " + c.path() + " " + c.before() + " -> " + c.after()
                        + (c.isBreaking() ? " breaking" : " harmless"))
                .toList();
    }

    @Test
    public void theSameContractHasNoChange() {
        assertTrue(Comparison.of(contract(field("x", "int", ""), ""), contract(field("x", "int", ""), ""))
                .isSame());
    }

    @Test
    public void whatIsRequiredNowBreaksRequestsAndNotAnswers() {
        String x = field("x", "int", "");
        assertEquals(
                changes(x, x + field("y", "int", ""), false),
                List.of("field Ask/ship/y null -> int, required breaking"));
        assertEquals(
                changes(x, x + field("y", "int", ""), true), List.of("field Tell/y null -> int, required harmless"));
        assertEquals(
                changes(x, x + field("y", "int", "minOccurs='0'"), false),
                List.of("field Ask/ship/y null -> int, optional harmless"));
        assertEquals(
                changes(x, field("x", "int", "minOccurs='0'"), false), List.of("occurs Ask/ship/x 1 -> 0..1 harmless"));
        assertEquals(changes(x, field("x", "int", "minOccurs='0'"), true), List.of("occurs Tell/x 1 -> 0..1 breaking"));
        assertEquals(
                changes(x, field("x", "int", "maxOccurs='unbounded'"), true),
                List.of("occurs Tell/x 1 -> 1..n breaking"));
        assertEquals(
                changes(x, field("x", "int", "nillable='true'"), true),
                List.of("nil Tell/x never nil -> may be nil breaking"));
    }

    @Test
    public void widerTypesAreHarmlessToSendAndBreakingToReceive() {
        assertEquals(
                changes(field("x", "int", ""), field("x", "long", ""), false),
                List.of("type Ask/ship/x int -> long harmless"));
        assertEquals(
                changes(field("x", "int", ""), field("x", "long", ""), true),
                List.of("type Tell/x int -> long breaking"));
        assertEquals(
                changes(field("x", "long", ""), field("x", "int", ""), false),
                List.of("type Ask/ship/x long -> int breaking"));
    }

    @Test
    public void aSharedTypeIsListedOnceAndItsOtherPlacesCounted() {
        String x = field("x", "int", "");
        Comparison.Result r = Comparison.of(contract(x + field("draft", "decimal", ""), x), contract(x, x));
        assertEquals(r.changes().size(), 1);
        assertEquals(r.changes().get(0).path(), "Ask/ship/draft");
        assertEquals(r.changes().get(0).kind(), Comparison.Kind.REMOVED);
    }

    @Test
    public void callersOfAnOperationSeeTheirChangesOnly() {
        String x = field("x", "int", "");
        Comparison.Result r =
                Comparison.forCallers(contract(x, x), contract(x, x + field("y", "int", "")), "Port", "ask");
        assertEquals(r.changes().stream().map(Change::path).toList(), List.of("Tell/y"));
        assertTrue(Comparison.forCallers(contract(x, x), contract(x + field("y", "int", ""), x), "Port", "other")
                .isSame());
    }

    @Test
    public void renamesAreProposed() {
        Comparison.Result r = Comparison.of(
                contract(field("eta", "dateTime", "") + field("draft", "decimal", ""), ""),
                contract(field("etaUtc", "dateTime", "") + field("draft", "decimal", ""), ""));
        assertEquals(r.renames().size(), 1);
        assertEquals(r.renames().get(0).from() + " " + r.renames().get(0).to(), "Ask/ship/eta Ask/ship/etaUtc");
        assertTrue(Comparison.of(contract(field("a", "int", ""), ""), contract(field("zz", "string", ""), ""))
                .renames()
                .isEmpty());
    }

    @Test
    public void portsOperationsAndAddresses() {
        Contract before = contract(field("x", "int", ""), "");
        Contract.Port p = before.ports().get(0);
        Contract.Port moved = new Contract.Port(
                p.name(), p.binding(), p.protocol(), "http://tides.example.net/2", List.of(), p.requirements());
        Contract after = new Contract(
                before.name(),
                before.targetNamespace(),
                null,
                before.documents(),
                List.of(new Contract.Service("S", null, List.of(moved))),
                List.of(),
                before.schemas());
        List<Change> changes = Comparison.of(before, after).changes();
        assertEquals(
                changes.stream()
                        .map(c -> c.kind() + " " + c.what() + " " + c.isBreaking())
                        .toList(),
                List.of("CHANGED address false", "REMOVED operation true"));
    }
}
