package org.wirekettle.mapping;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.testng.annotations.Test;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.xml.XmlElement;

/**
 * Rows and XML as two views of one message: repeats given one by one, nil with attributes, wildcards between elements,
 * what cannot be kept.
 */
public class ReadBackTest {
    private static final Operation.Message MESSAGE = message("""
        <xs:element name="Ask"><xs:complexType><xs:sequence>
          <xs:any namespace="##other" processContents="lax" minOccurs="0" maxOccurs="unbounded"/>
          <xs:element name="ship" nillable="true" minOccurs="0" maxOccurs="3"><xs:complexType><xs:sequence><xs:element
          name="name" type="xs:string"/></xs:sequence><xs:attribute name="line" type="xs:int"
          use="required"/></xs:complexType></xs:element>
          <xs:choice minOccurs="0" maxOccurs="unbounded"><xs:element name="tug" type="xs:string"/><xs:element
          name="pilot" type="xs:int" maxOccurs="2"/></xs:choice>
        </xs:sequence><xs:anyAttribute processContents="lax"/></xs:complexType></xs:element>\
        """);

    private static Operation.Message message(String schema) {
        String wsdl = "<definitions name=\"R\" targetNamespace=\"urn:r\" xmlns=\"http://schemas.xmlsoap.org/wsdl/\""
                + " xmlns:soap=\"http://schemas.xmlsoap.org/wsdl/soap/\""
                + " xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" xmlns:r=\"urn:r\"><types><xs:schema"
                + " targetNamespace=\"urn:r\" elementFormDefault=\"qualified\">"
                + schema
                + "</xs:schema></types><message name=\"A\"><part name=\"b\""
                + " element=\"r:Ask\"/></message><portType name=\"P\"><operation name=\"ask\"><input"
                + " message=\"r:A\"/></operation></portType><binding name=\"B\" type=\"r:P\"><soap:binding"
                + " transport=\"t\"/><operation name=\"ask\"><input><soap:body"
                + " use=\"literal\"/></input></operation></binding><service name=\"S\"><port name=\"P\""
                + " binding=\"r:B\"/></service></definitions>";
        return WsdlReader.read("r.wsdl", Documents.of(Map.of("r.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))))
                .ports()
                .get(0)
                .operations()
                .get(0)
                .request();
    }

    private static ReadBack.Result read(String body) {
        String xml = "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\""
                + " xmlns:xsi=\"http://www.w3.org/2001/XMLSchema-instance\" xmlns=\"urn:r\"><e:Body>"
                + body + "</e:Body></e:Envelope>";
        return ReadBack.of(MESSAGE.root(), XmlElement.parse("message", xml), xml);
    }

    private static Fill.Filled write(Mapping rules) {
        Fill fill = Fill.compile(rules, MESSAGE.root(), null);
        assertEquals(fill.problems().toString(), "[]");
        return fill.run(Scope.of(new Node("", "record")));
    }

    @Test
    public void repeatsComeBackOneByOneAndNilKeepsItsAttributes() {
        ReadBack.Result r =
                read("<Ask><ship line=\"1\"><name>Gull</name></ship><ship line=\"2\" xsi:nil=\"true\"/></Ask>");
        assertEquals(r.lost(), List.of());
        String body = write(r.mapping()).body();
        assertTrue(
                body.contains(
                        "<n1:ship line=\"1\"><n1:name>Gull</n1:name></n1:ship><n1:ship line=\"2\" xsi:nil=\"true\"/>"),
                body);
    }

    @Test
    public void aWildcardTakesOnlyWhatItAdmits() {
        ReadBack.Result r = read("<Ask><x:a xmlns:x=\"urn:x\">1</x:a><x:b xmlns:x=\"urn:x\"/><ship"
                + " line=\"1\"><name>Gull</name></ship></Ask>");
        assertEquals(r.lost(), List.of());
        assertEquals(
                r.mapping().rules().stream().map(Rule::path).toList(),
                List.of("Ask", "Ask/any", "Ask/any[2]", "Ask/ship", "Ask/ship/@line", "Ask/ship/name"));
    }

    @Test
    public void choicesThatRepeatKeepTheirOrder() {
        ReadBack.Result r = read("<Ask><pilot>1</pilot><pilot>2</pilot><tug>Bess</tug><pilot>3</pilot></Ask>");
        String body = write(r.mapping()).body();
        assertEquals(
                body.replaceAll("<[^>]*Ask[^>]*>", ""),
                "<n1:pilot>1</n1:pilot><n1:pilot>2</n1:pilot><n1:tug>Bess</n1:tug><n1:pilot>3</n1:pilot>");
    }

    @Test
    public void anyAttributesKeepTheirNamespaces() {
        ReadBack.Result r = read("<Ask plain=\"1\" xmlns:q=\"urn:q\" q:sealed=\"a&amp;b\"/>");
        XmlElement again = XmlElement.parse("again", write(r.mapping()).body());
        assertEquals(again.attribute("plain") + " " + again.attribute("{urn:q}sealed"), "1 a&b");
    }

    @Test
    public void whatNoRowTakesIsSaid() {
        assertEquals(
                read("<Ask>words<ship line=\"1\" colour=\"red\"><name xsi:type=\"odd\">x</name><age/></ship></Ask>")
                        .lost()
                        .stream()
                        .map(Problem::text)
                        .toList(),
                List.of(
                        "has the attribute colour, which no row takes",
                        "says it is of the kind odd, which the row has not",
                        "has the element age at line 1, which no row takes here",
                        "has text beside its elements, which no row takes"));
    }

    @Test
    public void moreThanAllowedAndAttributesThatAreNoneAreProblems() {
        Fill tooMany = Fill.compile(
                new Mapping(List.of(
                        Rule.text("Ask/ship/@line", "1"),
                        Rule.text("Ask/ship[2]/@line", "2"),
                        Rule.text("Ask/ship[3]/@line", "3"),
                        Rule.text("Ask/ship[4]/@line", "4"))),
                MESSAGE.root(),
                null);
        assertEquals(
                tooMany.problems().stream()
                        .filter(p -> !p.code().equals("unfilled"))
                        .map(Problem::text)
                        .toList(),
                List.of("occurs 4 times; allowed is 0..3"));
        Fill odd = Fill.compile(
                new Mapping(List.of(Rule.text("Ask/@anyAttribute", "not an attribute"))), MESSAGE.root(), null);
        assertTrue(odd.run(Scope.of(new Node("", "record")))
                .problems()
                .get(0)
                .text()
                .startsWith("takes attributes, such as"));
        Fill nil = Fill.compile(
                new Mapping(List.of(
                        new Rule("Ask/ship", null, null, null, null, null, WhenEmpty.NIL),
                        Rule.text("Ask/ship/@line", "7"),
                        Rule.text("Ask/ship[2]/@line", "8"),
                        Rule.text("Ask/ship[2]/name", "Tern"))),
                MESSAGE.root(),
                null);
        assertEquals(
                nil.run(Scope.of(new Node("", "record"))).body().replaceAll("<[^>]*Ask[^>]*>", ""),
                "<n1:ship line=\"7\" xsi:nil=\"true\"/><n1:ship line=\"8\"><n1:name>Tern</n1:name></n1:ship>");
    }
}
