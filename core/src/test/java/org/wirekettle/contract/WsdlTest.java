package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.testng.annotations.Test;
import org.wirekettle.contract.Contract.Protocol;
import org.wirekettle.contract.Operation.Direction;
import org.wirekettle.contract.Operation.Style;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;

/** Descriptions as they come: whole, in pieces, sloppy. The few lines that matter stand in each test. */
public class WsdlTest {
    private static final String HEAD =
            "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/'"
                    + " xmlns:s12='http://schemas.xmlsoap.org/wsdl/soap12/' xmlns:x='http://www.w3.org/2001/XMLSchema'"
                    + " xmlns:t='urn:t' targetNamespace='urn:t' name='N'>";

    static Contract read(String... nameAndText) {
        Map<String, byte[]> files = new LinkedHashMap<>();
        for (int i = 0; i < nameAndText.length; i += 2) {
            files.put(nameAndText[i], nameAndText[i + 1].getBytes(StandardCharsets.UTF_8));
        }
        return WsdlReader.read(nameAndText[0], Documents.of(files));
    }

    /** A whole WSDL around a schema's content: operation Do with the elements Do and DoResponse. */
    static String document(String schemaContent) {
        return HEAD + "<w:types><x:schema targetNamespace='urn:t' elementFormDefault='qualified'>" + schemaContent
                + "</x:schema></w:types>"
                + around("element='t:Do'", "element='t:DoResponse'", "document", "literal", "");
    }

    static String around(String in, String out, String style, String use, String bodyExtra) {
        return "<w:message name='In'><w:part name='p' " + in + "/></w:message><w:message name='Out'><w:part name='p' "
                + out + "/></w:message><w:portType name='PT'><w:operation name='Do'><w:input message='t:In'/><w:output"
                + " message='t:Out'/></w:operation></w:portType><w:binding name='B' type='t:PT'><s:binding"
                + " style='" + style
                + "' transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='Do'><s:operation"
                + " soapAction='urn:do'/><w:input><s:body"
                + " use='" + use + "' " + bodyExtra + "/></w:input><w:output><s:body use='" + use + "' "
                + bodyExtra + "/></w:output></w:operation></w:binding><w:service name='S'><w:port name='P'"
                + " binding='t:B'><s:address"
                + " location='http://service.test/p'/></w:port></w:service></w:definitions>";
    }

    private static Operation only(Contract c) {
        return c.ports().get(0).operations().get(0);
    }

    private static List<String> rows(Operation o) {
        return ShapeRows.of(o.request().root(), Map.of(), Set.of()).stream()
                .map(r -> "  ".repeat(r.identity().depth())
                        + r.path().substring(r.path().lastIndexOf('/') + 1) + " "
                        + r.occurrences().occurs() + " " + r.value().type())
                .toList();
    }

    private static boolean noted(Contract c, String code) {
        return c.notes().stream().anyMatch(n -> n.code().equals(code));
    }

    @Test
    public void documentLiteralIsLaidOut() {
        Contract c = read(
                "a.wsdl",
                document("<x:element name='Do'><x:complexType><x:sequence><x:element name='a' type='x:int'/><x:element"
                        + " name='b' minOccurs='0' maxOccurs='unbounded' type='x:string'/><x:choice><x:element"
                        + " name='c' type='x:date'/><x:sequence><x:element name='d' type='x:string'/><x:element"
                        + " name='e' type='x:string'/></x:sequence></x:choice></x:sequence><x:attribute name='k'"
                        + " use='required' type='x:string'/></x:complexType></x:element><x:element"
                        + " name='DoResponse' type='x:string'/>"));
        assertEquals(c.notes(), List.of());
        Operation o = only(c);
        assertEquals(o.action(), "urn:do");
        assertEquals(o.style(), Style.DOCUMENT);
        assertEquals(
                rows(o),
                List.of(
                        "Do 1 ",
                        "  @k 1 string",
                        "  a 1 int",
                        "  b 0..n string",
                        "  choice 1 one of 2",
                        "    c 1 date",
                        "    group 1 group",
                        "      d 1 string",
                        "      e 1 string"));
        assertEquals(o.answer().root().children().get(0).scalar().base(), "string");
    }

    @Test
    public void rpcLiteralWrapsItsPartsInTheOperation() {
        Contract c = read(
                "a.wsdl", HEAD + around("type='x:int'", "type='x:string'", "rpc", "literal", "namespace='urn:other'"));
        Operation o = only(c);
        assertEquals(o.style(), Style.RPC);
        assertEquals(o.request().wrapper().toString(), "{urn:other}Do");
        assertEquals(rows(o), List.of("Do 1 ", "  p 1 int"));
        assertEquals(o.answer().wrapper().local(), "DoResponse");
        assertEquals(
                o.request().root().children().get(0).children().get(0).namespace(),
                "",
                "part accessors are unqualified");
    }

    @Test
    public void rpcEncodedCarriesTypes() {
        Operation o = only(read(
                "a.wsdl",
                HEAD
                        + around(
                                "type='x:int'",
                                "type='x:string'",
                                "rpc",
                                "encoded",
                                "namespace='urn:t' encodingStyle='http://schemas.xmlsoap.org/soap/encoding/'")));
        assertEquals(o.use(), Use.ENCODED);
        assertTrue(o.request().root().children().get(0).children().get(0).isTyped());
    }

    @Test
    public void soap12AndOneWayAndHttpAreToldApart() {
        String wsdl = document("<x:element name='Do' type='x:string'/><x:element name='DoResponse' type='x:string'/>");
        assertEquals(read("a.wsdl", wsdl.replace("<s:", "<s12:")).ports().get(0).protocol(), Protocol.SOAP12);
        assertEquals(
                only(read("a.wsdl", wsdl.replace("<w:output message='t:Out'/>", "")))
                        .direction(),
                Direction.ONE_WAY);
        assertNull(only(read("a.wsdl", wsdl.replace("<w:output message='t:Out'/>", "")))
                .answer());
        Contract http = read(
                "a.wsdl",
                wsdl.replace(
                        "<s:binding style='document' transport='http://schemas.xmlsoap.org/soap/http'/>",
                        "<h:binding xmlns:h='http://schemas.xmlsoap.org/wsdl/http/' verb='GET'/>"));
        assertEquals(http.ports().get(0).protocol(), Protocol.HTTP);
        assertEquals(only(http).unusable(), "It is bound to plain HTTP, not to SOAP.");
    }

    @Test
    public void headersAreShapesOfTheirOwnAndNotInTheBody() {
        String wsdl = document("<x:element name='Do' type='x:string'/><x:element name='DoResponse'"
                        + " type='x:string'/><x:element name='Session'><x:complexType><x:sequence><x:element"
                        + " name='token' type='x:string'/></x:sequence></x:complexType></x:element>")
                .replace(
                        "<w:part name='p' element='t:Do'/>",
                        "<w:part name='p' element='t:Do'/><w:part name='h' element='t:Session'/>")
                .replaceFirst(
                        "<w:input><s:body use='literal' />",
                        "<w:input><s:header message='t:In' part='h' use='literal'/><s:body use='literal' />");
        Operation o = only(read("a.wsdl", wsdl));
        assertEquals(
                o.request().root().children().stream()
                        .map(s -> s.role() + " " + s.name())
                        .toList(),
                List.of("HEADER Session", "BODY Do"));
    }

    @Test
    public void importsAreFollowedAcrossFilesAndAMissingOneIsAskedForByName() {
        String main = HEAD + "<w:import namespace='urn:t' location='parts/messages.wsdl'/>"
                + around("element='t:Do'", "element='t:DoResponse'", "document", "literal", "")
                        .replaceAll("<w:message.*</w:message>", "");
        String messages = HEAD
                + "<w:types><x:schema><x:import namespace='urn:t'"
                + " schemaLocation='../types.xsd'/></x:schema></w:types><w:message name='In'><w:part name='p'"
                + " element='t:Do'/></w:message><w:message name='Out'><w:part name='p'"
                + " element='t:DoResponse'/></w:message></w:definitions>";
        String types = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t'"
                + " targetNamespace='urn:t'><x:include schemaLocation='common.xsd'/><x:element name='Do'"
                + " type='t:CommonValue'/><x:element name='DoResponse' type='x:string'/></x:schema>";
        String common = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'><x:complexType"
                + " name='CommonValue'><x:sequence><x:element name='inside'"
                + " type='x:int'/></x:sequence></x:complexType></x:schema>";
        Contract c = read("main.wsdl", main, "parts/messages.wsdl", messages, "types.xsd", types, "common.xsd", common);
        assertEquals(c.notes(), List.of());
        assertEquals(
                rows(only(c)),
                List.of("Do 1 CommonValue", "  inside 1 int"),
                "a chameleon include takes the includer's namespace");
        Contract lacking = read("main.wsdl", main, "parts/messages.wsdl", messages, "types.xsd", types);
        assertTrue(
                lacking.notes().stream().anyMatch(n -> n.text().contains("common.xsd")),
                lacking.notes().toString());
        assertTrue(only(lacking).isUsable(), "the rest works");
    }

    @Test
    public void inlineSchemasSeeEachOtherWithoutImports() {
        String wsdl = HEAD
                + "<w:types><x:schema targetNamespace='urn:t'><x:element name='Do' type='u:Other'"
                + " xmlns:u='urn:u'/><x:element name='DoResponse' type='x:string'/></x:schema><x:schema"
                + " targetNamespace='urn:u'><x:complexType name='Other'><x:sequence><x:element name='v'"
                + " type='x:int'/></x:sequence></x:complexType></x:schema></w:types>"
                + around("element='t:Do'", "element='t:DoResponse'", "document", "literal", "");
        Contract c = read("a.wsdl", wsdl);
        assertTrue(noted(c, "schema.import.missing"));
        assertEquals(rows(only(c)), List.of("Do 1 Other", "  v 1 int"));
    }

    @Test
    public void oneNamespaceInTwoSchemasIsOneWhole() {
        String wsdl = HEAD
                + "<w:types><x:schema targetNamespace='urn:t'><x:element name='Do' type='t:A'/></x:schema><x:schema"
                + " targetNamespace='urn:t'><x:complexType name='A'><x:sequence><x:element name='v'"
                + " type='x:int'/></x:sequence></x:complexType><x:element name='DoResponse'"
                + " type='x:string'/></x:schema></w:types>"
                + around("element='t:Do'", "element='t:DoResponse'", "document", "literal", "");
        assertEquals(rows(only(read("a.wsdl", wsdl))), List.of("Do 1 A", "  v 1 int"));
    }

    @Test
    public void danglingReferencesBecomeAnyContentWithANote() {
        Contract c = read(
                "a.wsdl",
                document("<x:element name='Do'><x:complexType><x:sequence><x:element name='a'"
                        + " type='t:Nowhere'/></x:sequence></x:complexType></x:element>"));
        assertTrue(noted(c, "schema.src-resolve"), c.notes().toString());
        assertTrue(noted(c, "wsdl.part.element"), "DoResponse is not declared");
        assertTrue(only(c).isUsable());
        int line = c.notes().stream()
                .filter(n -> n.code().equals("schema.src-resolve"))
                .findFirst()
                .orElseThrow()
                .place()
                .line();
        assertEquals(line, 1);
    }

    @Test
    public void notesHaveTheLineOfTheFile() {
        Contract c = read(
                "a.wsdl",
                document(
                        "\n\n<x:element name='Do' type='t:Nowhere'/>\n<x:element name='DoResponse' type='x:string'/>"));
        assertEquals(c.notes().get(0).place().toString().replaceAll(", column.*", ""), "a.wsdl, line 3");
    }

    @Test
    public void missingAddressAndServiceAreNoted() {
        String wsdl = document("<x:element name='Do' type='x:string'/><x:element name='DoResponse' type='x:string'/>");
        assertTrue(noted(
                read("a.wsdl", wsdl.replace("<s:address location='http://service.test/p'/>", "")),
                "wsdl.address.missing"));
        assertTrue(noted(
                read("a.wsdl", wsdl.replace("http://service.test/p", "http://localhost:80/x")),
                "wsdl.address.placeholder"));
        Contract serviceless = read("a.wsdl", wsdl.replaceAll("<w:service.*</w:service>", ""));
        assertTrue(noted(serviceless, "wsdl.service.missing"));
        assertTrue(only(serviceless).isUsable());
    }

    @Test
    public void overloadsAreToldApart() {
        String wsdl = document("<x:element name='Do' type='x:string'/><x:element name='DoResponse' type='x:string'/>")
                .replaceFirst("(<w:portType name='PT'>)(.*?)(</w:portType>)", "$1$2$2$3")
                .replaceFirst("(transport='http://schemas.xmlsoap.org/soap/http'/>)(.*?)(</w:binding>)", "$1$2$2$3");
        assertEquals(
                read("a.wsdl", wsdl).ports().get(0).operations().stream()
                        .map(Operation::name)
                        .toList(),
                List.of("Do", "Do#2"));
    }

    @Test
    public void kindsAreDerivedTypesAndSubstitutes() {
        Contract c = read(
                "a.wsdl",
                document("<x:complexType name='Cargo' abstract='true'><x:sequence><x:element name='weight'"
                        + " type='x:int'/></x:sequence></x:complexType><x:complexType"
                        + " name='Bulk'><x:complexContent><x:extension base='t:Cargo'><x:sequence><x:element"
                        + " name='grain'"
                        + " type='x:string'/></x:sequence></x:extension></x:complexContent></x:complexType><x:element"
                        + " name='note' type='x:string'/><x:element name='longNote' substitutionGroup='t:note'"
                        + " type='x:string'/><x:element name='Do'><x:complexType><x:sequence><x:element"
                        + " name='cargo' type='t:Cargo'/><x:element"
                        + " ref='t:note'/></x:sequence></x:complexType></x:element><x:element name='DoResponse'"
                        + " type='x:string'/>"));
        Shape request = only(c).request().root().children().get(0);
        Shape cargo = request.segments().get("cargo");
        assertTrue(cargo.isAbstract());
        assertEquals(cargo.variants().get(0).name().toString(), "{urn:t}Bulk");
        assertEquals(cargo.variants().get(0).shape().get().segments().keySet(), Set.of("weight", "grain"));
        assertEquals(request.segments().get("note").variants().get(0).name().local(), "longNote");
        assertTrue(request.segments().get("note").variants().get(0).isSubstitute());
    }

    @Test
    public void recursiveTypesEndUntilOpened() {
        Contract c = read(
                "a.wsdl",
                document("<x:complexType name='Part'><x:sequence><x:element name='id' type='x:int'/><x:element"
                        + " name='part' type='t:Part' minOccurs='0'/></x:sequence></x:complexType><x:element"
                        + " name='Do' type='t:Part'/><x:element name='DoResponse' type='x:string'/>"));
        Shape root = only(c).request().root();
        assertEquals(ShapeRows.of(root, Map.of(), Set.of()).size(), 3);
        assertTrue(ShapeRows.of(root, Map.of(), Set.of()).get(2).identity().closed());
        assertEquals(ShapeRows.of(root, Map.of(), Set.of("Do/part")).size(), 5);
    }

    @Test
    public void whatIsNoWsdlIsRefusedInWords() {
        assertTrue(expectThrows(
                        Refused.class, () -> read("a.xsd", "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'/>"))
                .getMessage()
                .startsWith("This is an XML schema"));
        assertTrue(expectThrows(Refused.class, () -> read("a.wsdl", "<description xmlns='http://www.w3.org/ns/wsdl'/>"))
                .getMessage()
                .contains("WSDL 2.0"));
        assertTrue(expectThrows(Refused.class, () -> read("a.wsdl", "<note/>"))
                .getMessage()
                .contains("<note>"));
    }

    @Test
    public void anImportLoopEnds() {
        String a = HEAD + "<w:import namespace='urn:t' location='b.wsdl'/></w:definitions>";
        String b = HEAD + "<w:import namespace='urn:t' location='a.wsdl'/></w:definitions>";
        assertFalse(read("a.wsdl", a, "b.wsdl", b).notes().isEmpty(), "it has no port, and says so");
    }

    @Test
    public void aQueryOnlyReferenceKeepsThePath() {
        assertEquals(
                new Documents(u -> null).resolve("http://tides.example.net/a/desk?wsdl", "?xsd=1"),
                "http://tides.example.net/a/desk?xsd=1");
        assertEquals(
                new Documents(u -> null).resolve("http://tides.example.net/a/desk?wsdl", "b.xsd"),
                "http://tides.example.net/a/b.xsd");
        assertEquals(new Documents(u -> null).resolve("folder/desk.wsdl", "../b.xsd"), "b.xsd");
    }

    @Test
    public void schemasThatNobodyShipsAreThere() {
        String wsdl = """
            <definitions name="K" targetNamespace="urn:k" xmlns="http://schemas.xmlsoap.org/wsdl/"
            xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema"
            xmlns:k="urn:k">
              <types><xs:schema targetNamespace="urn:k" xmlns:m="http://www.w3.org/2005/05/xmlmime"
              xmlns:r="http://ws-i.org/profiles/basic/1.1/xsd" xmlns:d="http://www.w3.org/2000/09/xmldsig#"
              xmlns:a="http://www.w3.org/2005/08/addressing">
                <xs:import namespace="http://www.w3.org/XML/1998/namespace"
                schemaLocation="http://www.w3.org/2001/xml.xsd"/><xs:import
                namespace="http://www.w3.org/2005/05/xmlmime"/><xs:import
                namespace="http://ws-i.org/profiles/basic/1.1/xsd"/>
                <xs:import namespace="http://www.w3.org/2000/09/xmldsig#" schemaLocation="xmldsig-core-schema.xsd"/>
                <xs:import namespace="http://www.w3.org/2005/08/addressing"/><xs:import
                namespace="http://schemas.xmlsoap.org/wsdl/"/>
                <xs:element name="Ask"><xs:complexType><xs:sequence><xs:element name="picture" type="m:base64Binary"/>
                <xs:element name="file" type="r:swaRef"/><xs:element ref="d:Signature"/><xs:element name="back"
                type="a:EndpointReferenceType"/></xs:sequence><xs:attribute
                ref="xml:lang"/></xs:complexType></xs:element>
              </xs:schema></types>
              <message name="A"><part name="b" element="k:Ask"/></message><portType name="P"><operation name="ask">
              <input message="k:A"/></operation></portType>
              <binding name="B" type="k:P"><soap:binding transport="t"/><operation name="ask"><input><soap:body
              use="literal"/></input></operation></binding>
              <service name="S"><port name="P" binding="k:B"><soap:address location="http://tides.example.net/"/>
              </port></service>
            </definitions>\
            """;
        Contract c = WsdlReader.read("k.wsdl", Documents.of(Map.of("k.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
        assertEquals(c.notes(), List.of());
        assertEquals(
                ShapeRows.of(c.ports().get(0).operations().get(0).request().root(), Map.of(), Set.of()).stream()
                        .filter(r -> r.identity().depth() == 1)
                        .map(ShapeRows.Row::name)
                        .toList(),
                List.of("lang", "picture", "file", "Signature", "back"));
    }
}
