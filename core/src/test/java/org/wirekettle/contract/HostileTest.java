package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import org.testng.annotations.Test;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.ShapeRows;

/** Descriptions made to hurt: each ends in a clear answer, within limits. */
public class HostileTest {
    private static Contract read(Map<String, String> files) {
        Map<String, byte[]> bytes = new LinkedHashMap<>();
        files.forEach((name, text) -> bytes.put(name, text.getBytes(StandardCharsets.UTF_8)));
        return WsdlReader.read(files.keySet().iterator().next(), Documents.of(bytes));
    }

    private static String wsdl(String schema) {
        return "<definitions name=\"H\" targetNamespace=\"urn:h\" xmlns=\"http://schemas.xmlsoap.org/wsdl/\""
                + " xmlns:soap=\"http://schemas.xmlsoap.org/wsdl/soap/\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\""
                + " xmlns:h=\"urn:h\"><types>" + schema
                + "</types><message name=\"A\"><part name=\"b\" element=\"h:Ask\"/></message><portType"
                + " name=\"P\"><operation name=\"ask\"><input message=\"h:A\"/></operation></portType><binding"
                + " name=\"B\" type=\"h:P\"><soap:binding transport=\"t\"/><operation name=\"ask\"><input><soap:body"
                + " use=\"literal\"/></input></operation></binding><service name=\"S\"><port name=\"Port\""
                + " binding=\"h:B\"><soap:address"
                + " location=\"http://tides.example.net/\"/></port></service></definitions>";
    }

    private static String schema(String content) {
        return "<xs:schema targetNamespace=\"urn:h\" elementFormDefault=\"qualified\">" + content + "</xs:schema>";
    }

    @Test
    public void anElementOfTenMegabytesIsReadAsTheTextItIs() {
        Contract c = read(Map.of(
                "h.wsdl",
                wsdl(schema("<xs:element name=\"Ask\"><xs:annotation><xs:documentation>" + "tide ".repeat(2_100_000)
                        + "</xs:documentation></xs:annotation></xs:element>"))));
        assertTrue(c.ports().get(0).operations().get(0).isUsable());
    }

    @Test
    public void anAttributeOfTenMegabytesIsRefused() {
        Refused r = expectThrows(
                Refused.class,
                () -> read(Map.of("h.wsdl", wsdl("<xs:schema targetNamespace=\"" + "a".repeat(10_000_000) + "\"/>"))));
        assertTrue(r.getMessage().contains("ttribute"), r.getMessage());
    }

    @Test
    public void aDepthOfAHundredThousandIsRefused() {
        Refused r = expectThrows(
                Refused.class, () -> read(Map.of("h.wsdl", wsdl("<a>".repeat(100_000) + "</a>".repeat(100_000)))));
        assertTrue(r.getMessage().toLowerCase(java.util.Locale.ROOT).contains("depth"), r.getMessage());
    }

    @Test
    public void aDeepSchemaIsOpenedWithinLimits() {
        String deep = "<xs:element name=\"x\"><xs:complexType><xs:sequence>".repeat(100)
                + "</xs:sequence></xs:complexType></xs:element>".repeat(100);
        Contract c = read(Map.of(
                "h.wsdl",
                wsdl(schema("<xs:element name=\"Ask\"><xs:complexType><xs:sequence>" + deep
                        + "</xs:sequence></xs:complexType></xs:element>"))));
        assertTrue(ShapeRows.of(c.ports().get(0).operations().get(0).request().root(), Map.of(), java.util.Set.of())
                        .size()
                > 50);
    }

    @Test
    public void externalEntitiesAreNeverFollowed() {
        String laughs =
                "<?xml version=\"1.0\"?><!DOCTYPE definitions [<!ENTITY file SYSTEM \"file:///etc/hostname\"><!ENTITY"
                        + " a \"aaaaaaaaaa\"><!ENTITY b \"&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;\">]>";
        Contract c = read(Map.of(
                "h.wsdl",
                laughs
                        + wsdl(schema("<xs:element name=\"Ask\" type=\"xs:string\"/>"))
                                .replace("<types>", "<documentation>&file;&b;</documentation><types>")));
        assertTrue(c.documentation().length() < 100, c.documentation());
        assertTrue(c.notes().stream().anyMatch(n -> n.code().equals("xml.doctype")));
    }

    @Test
    public void circlesOfImportsAndIncludesEnd() {
        Map<String, String> files = new LinkedHashMap<>();
        files.put(
                "h.wsdl",
                wsdl("<xs:schema targetNamespace=\"urn:h\"><xs:include schemaLocation=\"a.xsd\"/></xs:schema>")
                        .replace("<types>", "<import namespace=\"urn:h\" location=\"h.wsdl\"/><types>"));
        files.put(
                "a.xsd",
                "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:h\"><xs:include"
                        + " schemaLocation=\"b.xsd\"/><xs:include schemaLocation=\"a.xsd\"/></xs:schema>");
        files.put(
                "b.xsd",
                "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:h\"><xs:include"
                        + " schemaLocation=\"a.xsd\"/><xs:element name=\"Ask\" type=\"xs:string\"/></xs:schema>");
        Contract c = read(files);
        assertEquals(c.documents().size(), 3);
        assertTrue(c.ports().get(0).operations().get(0).isUsable());
    }

    @Test
    public void typesThatAreTheirOwnBaseOrGroupEndInANote() {
        Contract c = read(Map.of(
                "h.wsdl",
                wsdl(schema("<xs:complexType name=\"T\"><xs:complexContent><xs:extension"
                        + " base=\"h:T\"/></xs:complexContent></xs:complexType><xs:group"
                        + " name=\"G\"><xs:sequence><xs:group"
                        + " ref=\"h:G\"/></xs:sequence></xs:group><xs:element name=\"Ask\""
                        + " type=\"h:T\"/>"))));
        assertTrue(
                c.notes().stream().anyMatch(n -> n.place().line() > 0 && n.section() != null),
                c.notes().toString());
    }

    @Test
    public void anOccurrenceOfMillionsDoesNotHang() {
        Contract c = read(Map.of(
                "h.wsdl",
                wsdl(schema("<xs:element name=\"Ask\"><xs:complexType><xs:sequence minOccurs=\"0\""
                        + " maxOccurs=\"2000000000\"><xs:element name=\"a\" type=\"xs:string\""
                        + " minOccurs=\"0\""
                        + " maxOccurs=\"999999999\"/></xs:sequence></xs:complexType></xs:element>"))));
        assertEquals(
                ShapeRows.of(c.ports().get(0).operations().get(0).request().root(), Map.of(), java.util.Set.of())
                        .size(),
                3);
    }

    @Test
    public void groupsThatMayOccurThousandsOfTimesAreValidatedWithoutAnAutomatonOfThatSize() {
        Contract c = read(Map.of(
                "h.wsdl",
                wsdl(schema("<xs:element name=\"Ask\"><xs:complexType><xs:sequence"
                        + " maxOccurs=\"20000\"><xs:element name=\"a\" type=\"xs:int\""
                        + " maxOccurs=\"9999\"/><xs:choice minOccurs=\"0\""
                        + " maxOccurs=\"5000\"><xs:element name=\"c\" type=\"xs:int\"/><xs:element"
                        + " name=\"d\" type=\"xs:int\""
                        + " maxOccurs=\"300\"/></xs:choice></xs:sequence></xs:complexType></xs:element>"))));
        Operation.Message ask = c.ports().get(0).operations().get(0).request();
        String head = "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body><Ask xmlns=\"urn:h\">";
        assertEquals(
                MessageCheck.check(
                                c, ask, head + "<a>1</a>".repeat(50) + "<c>2</c><a>3</a></Ask></e:Body></e:Envelope>")
                        .toString(),
                "[]");
        assertEquals(
                MessageCheck.check(c, ask, head + "<a>1</a><c>x</c></Ask></e:Body></e:Envelope>")
                        .size(),
                1);
        assertEquals(
                ShapeRows.of(ask.root(), Map.of(), java.util.Set.of())
                        .get(1)
                        .occurrences()
                        .occurs(),
                "1..20000",
                "what is shown is what the schema says");
    }
}
