package org.wirekettle.mapping;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.testng.annotations.AfterClass;
import org.testng.annotations.Test;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.Shape;

/** What is taken as it is: recursion, choices, nil, other namespaces, and what has no end. */
public class CopyTest {
    private static final String SCHEMAS = "<x:schema targetNamespace='urn:o' elementFormDefault='qualified'>"
            + "<x:complexType name='Package'><x:sequence><x:element name='label' type='x:string'/>"
            + "<x:element name='package' type='o:Package' minOccurs='0' maxOccurs='unbounded'/></x:sequence>"
            + "</x:complexType></x:schema>"
            + "<x:schema targetNamespace='urn:t' elementFormDefault='qualified'><x:import namespace='urn:o'/>"
            + "<x:complexType name='Base' abstract='true'><x:sequence/></x:complexType>"
            + "<x:element name='Do'><x:complexType><x:sequence><x:element name='box' minOccurs='0'><x:complexType>"
            + "<x:sequence><x:element name='left' type='x:date' nillable='true' minOccurs='0'/><x:choice>"
            + "<x:element name='berth' type='x:string'/><x:element name='buoy' type='x:int'/></x:choice>"
            + "<x:element name='inside' type='o:Package' minOccurs='0' maxOccurs='2'/>"
            + "<x:element name='base' type='t:Base' minOccurs='0'/></x:sequence></x:complexType></x:element>"
            + "</x:sequence></x:complexType></x:element></x:schema>";
    private static final Expressions EXPRESSIONS = new Expressions();
    private final Contract contract = contract();

    private final Shape target =
            contract.ports().get(0).operations().get(0).request().root();

    @AfterClass
    public void end() {
        EXPRESSIONS.close();
    }

    private static Contract contract() {
        String wsdl = "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:o='urn:o'"
                + " xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema'"
                + " xmlns:t='urn:t' targetNamespace='urn:t'><w:types>" + SCHEMAS
                + "</w:types><w:message name='In'><w:part name='p' element='t:Do'/></w:message><w:portType name='PT'>"
                + "<w:operation name='Do'><w:input message='t:In'/></w:operation></w:portType><w:binding name='B'"
                + " type='t:PT'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='Do'>"
                + "<w:input><s:body use='literal'/></w:input></w:operation></w:binding><w:service name='S'><w:port"
                + " name='P' binding='t:B'><s:address location='http://service.test/'/></w:port></w:service>"
                + "</w:definitions>";
        return WsdlReader.read("a.wsdl", Documents.of(Map.of("a.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
    }

    private Fill.Filled taken(Node record) {
        Fill f = Fill.compile(new Mapping(List.of(Rule.xpath("Do/box", "b"))), target, EXPRESSIONS);
        assertEquals(f.problems(), List.of());
        return f.preview(Scope.of(record));
    }

    private Fill.Filled taken(String xml) throws Exception {
        return taken(NodeXml.read("<record>" + xml + "</record>"));
    }

    private static List<String> problems(Fill.Filled f) {
        return f.problems().stream().map(p -> p.row() + " " + p.text()).toList();
    }

    @Test
    public void allLevelsAreTakenWithTheirNamespaces() throws Exception {
        Fill.Filled f = taken("<b><left/><buoy>7</buoy><inside><label>a</label><package><label>b</label><package>"
                + "<label>c</label></package></package><package><label>d</label></package></inside></b>");
        assertEquals(problems(f), List.of());
        assertEquals(contract.schemas().validate(f.body()), List.of(), f.body());
        assertEquals(
                f.body().replaceAll(" xmlns:\\w+=\"[^\"]*\"|n\\d:", ""),
                "<Do><box><left xsi:nil=\"true\"/><buoy>7</buoy><inside><label>a</label><package><label>b</label>"
                        + "<package><label>c</label></package></package><package><label>d</label></package></inside>"
                        + "</box></Do>");
    }

    @Test
    public void whatIsMissingTooOftenOrOfNoKindIsSaidAtItsPlace() throws Exception {
        assertEquals(
                problems(taken("<b><inside><x/></inside><inside/><inside/><base/></b>")),
                List.of(
                        "Do/box/choice is required, but none of berth, buoy is there in what is taken as it is",
                        "Do/box/inside occurs 3 times; allowed is 0..2",
                        "Do/box/inside/label is required, but nothing of that name is there in what is taken as it is",
                        "Do/box/base is abstract: its kind is to be said by a rule"));
        assertEquals(
                problems(taken("<b><buoy><x>1</x></buoy></b>")).get(0),
                "Do/box/choice/buoy takes one value, but has fields inside in what is taken as it is");
    }

    @Test
    public void whatIsTooDeepIsRefusedAndBreaksNothing() {
        Node box = new Node("", "b").add(Node.leaf("buoy", "1"));
        Node at = new Node("", "inside");
        box.add(at);
        for (int i = 0; i < 400; i++) {
            Node next = new Node("", "package");
            at.add(Node.leaf("label", "x")).add(next);
            at = next;
        }
        at.add(Node.leaf("label", "end"));
        String first = problems(taken(new Node("", "record").add(box))).get(0);
        assertTrue(first.endsWith("is nested more than 200 deep"), first);
    }
}
