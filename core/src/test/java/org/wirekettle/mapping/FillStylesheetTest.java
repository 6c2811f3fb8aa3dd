package org.wirekettle.mapping;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import org.testng.annotations.AfterClass;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Language;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.ListRule;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.Shape;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;

/** The stylesheet of a fill, run by Saxon, makes the elements that the fill makes. */
public class FillStylesheetTest {
    private static final Path CORPUS = Path.of("src/test/resources/corpus");

    private static final String SOAP11 = "http://schemas.xmlsoap.org/soap/envelope/";

    private final Expressions expressions = new Expressions();
    private final Shape target =
            FillTest.contract().ports().get(0).operations().get(0).request().root();

    @AfterClass(alwaysRun = true)
    public void close() {
        expressions.close();
    }

    /** An element in a form that does not depend on how it is written. */
    private static String canonical(Node n) {
        String attributes = n.attributes().stream()
                .map(a -> " {" + a.namespace() + "}" + a.name() + "=" + a.string())
                .sorted()
                .collect(Collectors.joining());
        String inside = n.isLeaf()
                ? n.string()
                : n.children().stream().map(FillStylesheetTest::canonical).collect(Collectors.joining());
        return "<{" + n.namespace() + "}" + n.name() + attributes + (n.isNil() ? " nil" : "") + ">" + inside + "</>";
    }

    private static String canonical(String xml) throws Exception {
        return NodeXml.read("<all>" + xml + "</all>").children().stream()
                .map(FillStylesheetTest::canonical)
                .collect(Collectors.joining("\n"));
    }

    private String transformed(Fill.Stylesheet sheet, Node record) throws Exception {
        Expression compiled = expressions.compile(Language.XSLT, sheet.text());
        List<Node> made = compiled.nodes(Scope.of(record));
        return canonical(made.stream().map(NodeXml::write).collect(Collectors.joining()));
    }

    @DataProvider
    public Object[][] descriptions() throws Exception {
        try (var files = Files.walk(CORPUS)) {
            return files.filter(f -> f.toString().endsWith(".wsdl"))
                    .sorted()
                    .map(f -> new Object[] {f})
                    .toArray(Object[][]::new);
        }
    }

    @Test(dataProvider = "descriptions")
    public void examplesOfTheCorpusComeOutTheSame(Path wsdl) throws Exception {
        Contract c = WsdlReader.read(
                wsdl.toAbsolutePath().toString(), new Documents(uri -> Files.readAllBytes(Path.of(uri))));
        List<Operation> operations = c.ports().stream()
                .flatMap(p -> p.operations().stream())
                .filter(Operation::isUsable)
                .limit(12)
                .toList();
        for (Operation o : operations) {
            for (boolean full : new boolean[] {false, true}) {
                Fill fill = Fill.compile(
                        Examples.of(o.request().root(), full), o.request().root(), expressions);
                Node record = new Node("", "record");
                Fill.Stylesheet sheet = fill.stylesheet(null);
                List<String> others = new ArrayList<>(sheet.notes());
                others.removeIf(n -> n.endsWith("any attribute is not part of this stylesheet"));
                assertEquals(others, List.of());
                String wanted = canonical(fill.run(Scope.of(record)).body());
                if (sheet.notes().isEmpty()) {
                    assertEquals(transformed(sheet, record), wanted, o.name() + "\n" + sheet.text());
                }
            }
        }
    }

    private static Rule rule(String path, String xpath, String each, WhenEmpty empty, String kind) {
        return new Rule(path, xpath, null, each, kind, null, empty);
    }

    private void same(String record, Rule... rules) throws Exception {
        Fill fill = Fill.compile(new Mapping(Arrays.asList(rules)), target, expressions);
        Node r = NodeXml.read("<record>" + record + "</record>");
        Fill.Stylesheet sheet = fill.stylesheet(null);
        assertEquals(sheet.notes(), List.of());
        assertEquals(transformed(sheet, r), canonical(fill.run(Scope.of(r)).body()), sheet.text());
    }

    @Test
    public void whatIsEmptyIsLeftOutKeptOrNil() throws Exception {
        for (WhenEmpty empty : WhenEmpty.values()) {
            for (String name : List.of("", "<n/>", "<n>Grey Plover</n>", "<n>a</n><n>b</n>", "<n>&lt;&amp;{x}</n>")) {
                same("<no>1</no>" + name, Rule.xpath("Do/id", "no"), rule("Do/name", "n", null, empty, null));
            }
        }
    }

    @Test
    public void repeatsHaveTheirItemsInside() throws Exception {
        same(
                "<no>1</no><line><t>2</t><k>7</k></line><line><t>3</t></line>",
                Rule.xpath("Do/id", "no"),
                rule("Do/hold", null, "line[t > 1]", null, null),
                Rule.xpath("Do/hold/@no", "k"),
                Rule.xpath("Do/hold/tonnes", "number(t) * count($record/line)"));
        same("<no>1</no>", Rule.xpath("Do/id", "no"), rule("Do/hold", null, "line", null, null));
        same("<no>1</no><t/>", Rule.xpath("Do/id", "no"), Rule.xpath("Do/hold/tonnes", "t"));
        same("<no>1</no><t>4</t>", Rule.xpath("Do/id", "no"), Rule.xpath("Do/hold/tonnes", "t"));
    }

    @Test
    public void aChoiceIsItsFirstBranchWithAValue() throws Exception {
        for (String record : List.of("<p>1</p><e>x</e>", "<e>x</e>", "<p/><e>x</e>", "")) {
            same(
                    "<no>1</no>" + record,
                    Rule.xpath("Do/id", "no"),
                    Rule.xpath("Do/choice/phone", "p"),
                    Rule.xpath("Do/choice/email", "e"));
        }
    }

    @Test
    public void kindsAreChosenByRule() throws Exception {
        List<Mapping.KindRule> kinds =
                List.of(new Mapping.KindRule("g != ''", "{urn:t}Bulk"), new Mapping.KindRule(null, ""));
        Rule cargo = new Rule("Do/cargo", null, null, "line", null, null, null, null, null, kinds, null);
        same(
                "<no>1</no><line><w>2</w><g>barley</g></line><line><w>3</w></line>",
                Rule.xpath("Do/id", "no"),
                cargo,
                Rule.xpath("Do/cargo/weight", "w"),
                Rule.xpath("Do/cargo/grain", "g"));
    }

    @Test
    public void listsTextsAndElementsOfAnyKind() throws Exception {
        for (ListRule.NotThere otherwise : ListRule.NotThere.values()) {
            if (otherwise != ListRule.NotThere.REFUSE) {
                ListRule list = new ListRule(
                        null,
                        null,
                        null,
                        List.of(new ListRule.Entry("KX", "perish'able"), new ListRule.Entry("ST", "usual")),
                        otherwise,
                        "other");
                for (String u : List.of("<u>KX</u>", "<u>RUSH</u>", "")) {
                    same(
                            "<no>1</no>" + u,
                            Rule.xpath("Do/id", "no"),
                            new Rule("Do/name", "u", null, null, null, null, null, null, null, null, list));
                }
            }
        }
        same("<no>1</no><x><y a='1'>z</y></x>", Rule.xpath("Do/id", "no"), Rule.xpath("Do/any", "x/y"));
        same("<no>1</no><x>&lt;q/&gt;</x>", Rule.xpath("Do/id", "no"), Rule.xpath("Do/any", "x"));
    }

    @Test
    public void envelopesComeOutTheSame() throws Exception {
        for (SoapVersion version : SoapVersion.values()) {
            for (Operation.Use use : Operation.Use.values()) {
                Fill fill = Fill.compile(
                        new Mapping(List.of(Rule.xpath("Do/id", "no"), Rule.xpath("Do/name", "n"))),
                        target,
                        expressions);
                Node r = NodeXml.read("<record><no>1</no></record>");
                Fill.Filled filled = fill.run(Scope.of(r));
                String wanted = new String(
                        Envelopes.write(version, use, filled.headers(), filled.body()), StandardCharsets.UTF_8);
                Fill.Envelope envelope = new Fill.Envelope(
                        version.namespace(), use == Operation.Use.ENCODED, version == SoapVersion.SOAP11);
                assertEquals(
                        transformed(fill.stylesheet(envelope), r),
                        canonical(wanted.substring(wanted.indexOf("?>") + 2)));
            }
        }
    }

    @Test
    public void whatAStylesheetCannotKnowIsSaid() {
        Fill fill = Fill.compile(
                new Mapping(List.of(
                        Rule.xpath("Do/id", "1"), Rule.xpath("Do/hold", "line"), Rule.secret("Do/name", "berth-pin"))),
                target,
                expressions);
        Fill.Stylesheet sheet = fill.stylesheet(new Fill.Envelope(SOAP11, false, true));
        assertEquals(sheet.notes().size(), 2, sheet.notes().toString());
        assertTrue(sheet.text().contains("<!-- Do/name: the secret berth-pin is not part"), sheet.text());
        assertTrue(sheet.text().contains("<soap:Body>"), sheet.text());
    }
}
