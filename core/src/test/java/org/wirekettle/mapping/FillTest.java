package org.wirekettle.mapping;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.testng.annotations.Test;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.expression.ValueLists;
import org.wirekettle.mapping.Mapping.ListRule;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.Mapping.WhenEmpty;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;

/** Messages filled from records. */
public class FillTest {
    private static final Expressions EXPRESSIONS = new Expressions();
    private final Contract contract = contract();
    private final Shape target =
            contract.ports().get(0).operations().get(0).request().root();

    static Contract contract() {
        String schema = "<x:complexType name='Cargo'><x:sequence><x:element name='weight'"
                + " type='x:decimal'/></x:sequence></x:complexType><x:complexType"
                + " name='Bulk'><x:complexContent><x:extension base='t:Cargo'><x:sequence><x:element name='grain'"
                + " type='x:string'/></x:sequence></x:extension></x:complexContent></x:complexType><x:element"
                + " name='Do'><x:complexType><x:sequence><x:element name='id' type='x:int'/><x:element name='name'"
                + " minOccurs='0' nillable='true' type='x:string'/><x:element name='hold' minOccurs='0'"
                + " maxOccurs='3'><x:complexType><x:sequence><x:element name='tonnes'"
                + " type='x:decimal'/></x:sequence><x:attribute name='no'"
                + " type='x:int'/></x:complexType></x:element><x:element name='cargo' type='t:Cargo'"
                + " minOccurs='0' maxOccurs='4'/><x:choice minOccurs='0'><x:element name='phone' type='x:string'/><x:element"
                + " name='email' type='x:string'/></x:choice><x:any minOccurs='0'"
                + " processContents='lax'/></x:sequence></x:complexType></x:element><x:element name='R'"
                + " type='x:string'/>";
        String wsdl = "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/'"
                + " xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema'"
                + " xmlns:t='urn:t' targetNamespace='urn:t'><w:types><x:schema targetNamespace='urn:t'"
                + " elementFormDefault='qualified'>" + schema
                + "</x:schema></w:types><w:message name='In'><w:part name='p'"
                + " element='t:Do'/></w:message><w:portType name='PT'><w:operation name='Do'><w:input"
                + " message='t:In'/></w:operation></w:portType><w:binding name='B' type='t:PT'><s:binding"
                + " transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='Do'><w:input><s:body"
                + " use='literal'/></w:input></w:operation></w:binding><w:service name='S'><w:port name='P'"
                + " binding='t:B'><s:address"
                + " location='http://service.test/'/></w:port></w:service></w:definitions>";
        return WsdlReader.read("a.wsdl", Documents.of(Map.of("a.wsdl", wsdl.getBytes(StandardCharsets.UTF_8))));
    }

    private Fill.Filled fill(String record, Rule... rules) throws Exception {
        Fill f = Fill.compile(new Mapping(Arrays.asList(rules)), target, EXPRESSIONS);
        assertEquals(f.problems(), List.of());
        return f.preview(Scope.of(NodeXml.read("<record>" + record + "</record>")));
    }

    /** Without the declarations of the top element, which every message has. */
    private static String body(Fill.Filled f) {
        return f.body().replaceAll(" xmlns:\\w+=\"[^\"]*\"", "").replace("n1:", "");
    }

    private void fits(Fill.Filled f) {
        assertEquals(f.problems(), List.of());
        assertEquals(contract.schemas().validate(f.body()), List.of(), f.body());
    }

    @Test
    public void fieldsTextsAndExpressions() throws Exception {
        Fill.Filled f =
                fill("<no>7</no><a>x</a>", Rule.xpath("Do/id", "no"), Rule.xpath("Do/name", "upper-case(a) || '!'"));
        assertEquals(body(f), "<Do><id>7</id><name>X!</name></Do>");
        assertEquals(f.becomes(), Map.of("Do/id", List.of("7"), "Do/name", List.of("X!")));
        fits(f);
    }

    private Fill.Filled secret(SecretValues secrets, Rule... rules) throws Exception {
        return Fill.compile(new Mapping(Arrays.asList(rules)), target, EXPRESSIONS, secrets)
                .preview(Scope.of(NodeXml.read("<record/>")));
    }

    @Test
    public void aSecretIsWrittenAndShownAsOne() throws Exception {
        Rule[] rules = {Rule.text("Do/id", "7"), Rule.secret("Do/name", "desk")};
        Fill.Filled f = secret(name -> name.equals("desk") ? "t1de & s4lt" : null, rules);
        assertEquals(body(f), "<Do><id>7</id><name>t1de &amp; s4lt</name></Do>");
        assertEquals(f.becomes().get("Do/name"), List.of("•••"));
        fits(f);
        Fill.Filled shown = secret(SecretValues.SHOWN, rules);
        assertEquals(body(shown), "<Do><id>7</id><name>•••</name></Do>");
    }

    @Test
    public void whatIsWrongWithASecretIsSaidWithoutIt() {
        Fill f = Fill.compile(
                new Mapping(List.of(Rule.secret("Do/id", "desk"), Rule.secret("Do/any", "desk"))),
                target,
                EXPRESSIONS,
                name -> "t1de");
        assertEquals(
                f.problems().stream().map(Problem::inWords).toList(),
                List.of(
                        "id the secret desk is no int as it has to be here",
                        "any takes no secret, only a row with one value does"));
        Fill none = Fill.compile(
                new Mapping(List.of(Rule.secret("Do/id", "desk"))), target, EXPRESSIONS, SecretValues.NONE);
        assertEquals(
                none.problems().stream().map(Problem::code).toList(),
                List.of("secret"),
                "it is known before any record");
        // A row that a secret is shown in is not held against its type: nobody knows the value.
        assertEquals(
                Fill.compile(new Mapping(List.of(Rule.secret("Do/id", "desk"))), target, EXPRESSIONS)
                        .problems(),
                List.of());
    }

    @Test
    public void valuesAreEscaped() throws Exception {
        Fill.Filled f = fill(
                "<no>7</no><a>1 &lt; 2 &amp; \"3\" ]]&gt;</a>", Rule.xpath("Do/id", "no"), Rule.xpath("Do/name", "a"));
        assertEquals(body(f), "<Do><id>7</id><name>1 &lt; 2 &amp; \"3\" ]]&gt;</name></Do>");
        fits(f);
    }

    @Test
    public void emptyIsOmittedKeptOrNil() throws Exception {
        assertEquals(body(fill("<a/>", Rule.text("Do/id", "1"), Rule.xpath("Do/name", "a"))), "<Do><id>1</id></Do>");
        assertEquals(
                body(fill(
                        "<a/>",
                        Rule.text("Do/id", "1"),
                        new Rule("Do/name", "a", null, null, null, null, WhenEmpty.KEEP))),
                "<Do><id>1</id><name></name></Do>");
        Fill.Filled nil =
                fill("<a/>", Rule.text("Do/id", "1"), new Rule("Do/name", "a", null, null, null, null, WhenEmpty.NIL));
        assertEquals(body(nil), "<Do><id>1</id><name xsi:nil=\"true\"/></Do>");
        fits(nil);
    }

    @Test
    public void aRepeatingRowOccursForEachItemWhichIsItsContext() throws Exception {
        Fill.Filled f = fill(
                "<no>1</no><hold n='1'><kg>2000</kg></hold><hold n='2'><kg>500</kg></hold>",
                Rule.xpath("Do/id", "no"),
                new Rule("Do/hold", null, null, "hold", null, null, null),
                Rule.xpath("Do/hold/@no", "@n"),
                Rule.xpath("Do/hold/tonnes", "kg div 1000 + number(../no)"));
        assertEquals(
                body(f),
                "<Do><id>1</id><hold no=\"1\"><tonnes>3</tonnes></hold><hold"
                        + " no=\"2\"><tonnes>1.5</tonnes></hold></Do>");
        fits(f);
        Fill.Filled four = fill(
                "<no>1</no><h/><h/><h/><h/>",
                Rule.xpath("Do/id", "no"),
                new Rule("Do/hold", null, null, "h", null, null, null),
                Rule.text("Do/hold/tonnes", "1"));
        assertEquals(four.problems().get(0).text(), "occurs 4 times; allowed is 0..3");
    }

    @Test
    public void aKindIsWrittenAsXsiType() throws Exception {
        Fill.Filled f = fill(
                "<w>3</w>",
                Rule.text("Do/id", "1"),
                new Rule("Do/cargo", null, null, null, "{urn:t}Bulk", null, null),
                Rule.xpath("Do/cargo/weight", "w"),
                Rule.text("Do/cargo/grain", "oats"));
        assertEquals(
                body(f), "<Do><id>1</id><cargo xsi:type=\"Bulk\"><weight>3</weight><grain>oats</grain></cargo></Do>");
        fits(f);
    }

    @Test
    public void aRepeatingRowHasSeveralRulesOneAfterTheOther() throws Exception {
        Fill.Filled f = fill(
                "<line><t>4</t></line><line><t>5</t></line>",
                Rule.text("Do/id", "1"),
                Rule.text("Do/hold/tonnes", "640"),
                new Rule("Do/hold[2]", null, null, "line", null, null, null),
                Rule.xpath("Do/hold[2]/tonnes", "t"));
        assertEquals(
                body(f),
                "<Do><id>1</id><hold><tonnes>640</tonnes></hold><hold><tonnes>4</tonnes></hold><hold><tonnes>5</tonnes>"
                        + "</hold></Do>");
        fits(f);
    }

    private static Rule listed(ListRule list) {
        return new Rule("Do/id", "code", null, null, null, null, null, null, null, null, list);
    }

    private static ListRule written(ListRule.NotThere notThere, String text) {
        return new ListRule(
                null,
                null,
                null,
                List.of(new ListRule.Entry("one", "1"), new ListRule.Entry("two", "2")),
                notThere,
                text);
    }

    @Test
    public void aValueIsLookedUpInAListBeforeItIsChecked() throws Exception {
        assertEquals(body(fill("<code>two</code>", listed(written(null, null)))), "<Do><id>2</id></Do>");
        Fill.Filled refused = fill("<code>three</code>", listed(written(null, null)));
        assertEquals(refused.problems().get(0).text(), "\u201cthree\u201d is not in the list");
        assertEquals(
                body(fill("<code>7</code>", listed(written(ListRule.NotThere.KEEP, null)))), "<Do><id>7</id></Do>");
        assertEquals(body(fill("<code>x</code>", listed(written(ListRule.NotThere.TEXT, "9")))), "<Do><id>9</id></Do>");
        Fill.Filled empty = fill("<code>x</code>", listed(written(ListRule.NotThere.EMPTY, null)));
        assertEquals(empty.problems().get(0).code(), "unfilled");
        Fill.Filled none = fill("", listed(written(null, null)));
        assertEquals(none.problems().get(0).code(), "unfilled", "no value is in no list");
    }

    @Test
    public void aSourceIsAListWhereThereIsAProject() throws Exception {
        ListRule codes = new ListRule("codes", "name", "number", null, null, null);
        assertTrue(Fill.compile(new Mapping(List.of(listed(codes))), target, EXPRESSIONS)
                .problems()
                .get(0)
                .text()
                .contains("within flows only"));
        Expressions known = EXPRESSIONS.with((source, key, value) -> {
            if (!source.equals("codes")) {
                throw new ValueLists.NoList("there is no source named " + source);
            }
            return wanted -> wanted.equals("twice") ? List.of("1", "2") : List.of("5");
        });
        Fill f = Fill.compile(new Mapping(List.of(listed(codes))), target, known);
        assertEquals(f.problems(), List.of());
        assertEquals(body(f.run(Scope.of(NodeXml.read("<r><code>x</code></r>")))), "<Do><id>5</id></Do>");
        assertTrue(f.run(Scope.of(NodeXml.read("<r><code>twice</code></r>")))
                .problems()
                .get(0)
                .text()
                .contains("has 2 values in codes"));
        ListRule other = new ListRule("others", "name", "number", null, null, null);
        assertEquals(
                Fill.compile(new Mapping(List.of(listed(other))), target, known)
                        .problems()
                        .get(0)
                        .text(),
                "there is no source named others");
    }

    private static Rule kinds(Mapping.KindRule... kinds) {
        return new Rule("Do/cargo", null, null, "line", null, null, null, null, null, List.of(kinds), null);
    }

    @Test
    public void eachItemIsOfTheFirstKindWhoseConditionHolds() throws Exception {
        Rule[] rules = {
            Rule.text("Do/id", "1"),
            kinds(new Mapping.KindRule("g != ''", "{urn:t}Bulk"), new Mapping.KindRule(null, "")),
            Rule.xpath("Do/cargo/weight", "w"),
            Rule.xpath("Do/cargo/grain", "g")
        };
        Fill.Filled f = fill("<line><w>3</w><g>oats</g></line><line><w>4</w></line>", rules);
        assertEquals(
                body(f),
                "<Do><id>1</id><cargo xsi:type=\"Bulk\"><weight>3</weight><grain>oats</grain></cargo>"
                        + "<cargo><weight>4</weight></cargo></Do>");
        fits(f);
        assertEquals(f.becomes().get("Do/cargo"), List.of("2 times", "Bulk", "Cargo"));
        assertEquals(
                ShapeRows.of(target, Map.of("Do/cargo", List.of("{urn:t}Bulk", "")), Set.of(), Map.of()).stream()
                        .filter(r -> r.path().startsWith("Do/cargo/"))
                        .map(r -> r.name() + r.identity().only())
                        .toList(),
                List.of("weightnull", "grain[Bulk]"));
    }

    @Test
    public void anItemOfNoKindIsAProblemOfItsRow() throws Exception {
        Fill.Filled f = fill(
                "<line><w>3</w></line>",
                Rule.text("Do/id", "1"),
                kinds(new Mapping.KindRule("g", "{urn:t}Bulk")),
                Rule.xpath("Do/cargo/weight", "w"),
                Rule.xpath("Do/cargo/grain", "g"));
        assertEquals(f.problems().get(0).row(), "Do/cargo");
        assertEquals(f.problems().get(0).text(), "is of no kind here: none of its conditions holds");
        Fill wrong = Fill.compile(
                new Mapping(List.of(
                        kinds(new Mapping.KindRule("1 +", "{urn:t}Bulk"), new Mapping.KindRule(null, "{urn:t}Ship")),
                        Rule.text("Do/cargo/none", "x"))),
                target,
                EXPRESSIONS);
        List<String> all =
                wrong.problems().stream().map(p -> p.row() + " " + p.code()).toList();
        assertTrue(all.contains("Do/cargo expression") || all.contains("Do/cargo syntax"), all.toString());
        assertTrue(all.contains("Do/cargo row"), "there is no kind Ship: " + all);
        assertTrue(all.contains("Do/cargo/none row"), "no kind has that row: " + all);
    }

    @Test
    public void whatIsLikeTheRowIsTakenAsItIs() throws Exception {
        Fill.Filled f = fill(
                "<hold><No>2</No><Tonnes>3.5</Tonnes><more>x</more></hold><hold no='4'><tonnes>1</tonnes></hold>",
                Rule.text("Do/id", "1"),
                new Rule("Do/hold", ".", null, "hold", null, null, null));
        assertEquals(
                body(f),
                "<Do><id>1</id><hold no=\"2\"><tonnes>3.5</tonnes></hold><hold no=\"4\"><tonnes>1</tonnes></hold></Do>");
        fits(f);
    }

    @Test
    public void rulesInsideGoBeforeWhatIsTaken() throws Exception {
        Fill.Filled f = fill(
                "<h><no>2</no><tonnes>3.5</tonnes></h>",
                Rule.text("Do/id", "1"),
                new Rule("Do/hold", "h", null, null, null, null, null),
                Rule.xpath("Do/hold/tonnes", "h/tonnes * 2"));
        assertEquals(body(f), "<Do><id>1</id><hold no=\"2\"><tonnes>7</tonnes></hold></Do>");
        fits(f);
    }

    @Test
    public void whatIsTakenMayNotFit() throws Exception {
        Rule id = Rule.text("Do/id", "1");
        Rule taken = new Rule("Do/hold", "h", null, null, null, null, null);
        assertEquals(
                fill("<h><no>x</no></h>", id, taken).problems().stream()
                        .map(p -> p.row() + " " + p.text())
                        .toList(),
                List.of(
                        "Do/hold/@no “x” is not an int",
                        "Do/hold/tonnes is required, but nothing of that name is there in what is taken as it is"));
        assertEquals(
                fill("<h/><h/>", id, taken).problems().get(0).text(), "takes one, but there are 2: repeat over them");
        assertEquals(body(fill("<other/>", id, taken)), "<Do><id>1</id></Do>", "nothing to take, and none is required");
    }

    @Test
    public void aChoiceTakesItsBranchOrTheFirstWithAValue() throws Exception {
        Rule id = Rule.text("Do/id", "1");
        Rule branch = new Rule("Do/choice", null, null, null, null, "email", null);
        assertEquals(
                body(fill("<e>me</e><p>12</p>", id, branch, Rule.xpath("Do/choice/email", "e"))),
                "<Do><id>1</id><email>me</email></Do>");
        assertEquals(
                body(fill("<e>me</e><p/>", id, Rule.xpath("Do/choice/phone", "p"), Rule.xpath("Do/choice/email", "e"))),
                "<Do><id>1</id><phone></phone></Do>".replace("<phone></phone>", "<email>me</email>"));
    }

    @Test
    public void optionalParentsAppearOnlyWithSomethingInside() throws Exception {
        Rule[] rules = {Rule.text("Do/id", "1"), Rule.xpath("Do/cargo/weight", "w")};
        assertEquals(body(fill("<w>3</w>", rules)), "<Do><id>1</id><cargo><weight>3</weight></cargo></Do>");
        Fill.Filled without = fill("", rules);
        assertEquals(body(without), "<Do><id>1</id></Do>");
        fits(without);
    }

    @Test
    public void badValuesAreNamedByRowInWords() throws Exception {
        Fill.Filled f = fill("<no>1O4</no>", Rule.xpath("Do/id", "no"));
        assertEquals(f.problems(), List.of(Problem.ofRow("Do/id", "value", "“1O4” is not an int")));
        assertEquals(fill("<no/>", Rule.xpath("Do/id", "no")).problems().get(0).text(), "is empty, but must be int");
        assertEquals(fill("", Rule.xpath("Do/id", "no")).problems().get(0).code(), "unfilled");
        assertEquals(
                fill("<d>31.02.2031</d>", Rule.text("Do/id", "1"), Rule.xpath("Do/name", "wk:date(d, 'dd.MM.yyyy')"))
                        .problems()
                        .get(0)
                        .text(),
                "“31.02.2031” is not a date of the form dd.MM.yyyy");
    }

    @Test
    public void freeXmlGoesIntoAWildcardIfItIsXml() throws Exception {
        fits(fill("", Rule.text("Do/id", "1"), Rule.text("Do/any", "<more xmlns='urn:z'>1</more>")));
        assertEquals(
                fill("", Rule.text("Do/id", "1"), Rule.text("Do/any", "<more>"))
                        .problems()
                        .get(0)
                        .row(),
                "Do/any");
    }

    @Test
    public void requiredRowsWithoutAValueAreKnownBeforeThereIsARecord() {
        Fill nothing = Fill.compile(new Mapping(List.of()), target, EXPRESSIONS);
        assertEquals(nothing.problems(), List.of(Problem.ofRow("Do/id", "unfilled", "is required")));
        assertEquals(
                Fill.compile(new Mapping(List.of(Rule.xpath("Do/id", "n"))), target, EXPRESSIONS)
                        .problems(),
                List.of());
    }

    @Test
    public void aRequiredTextThatIsBlankIsSaidUnlessItIsMeant() throws Exception {
        Shape asks = Shape.record(
                "message",
                List.of(Shape.element("Ask")
                        .children(() -> List.of(Shape.element("port")
                                .scalar(org.wirekettle.shape.ScalarType.builtIn("string"))
                                .build()))
                        .build()));
        Scope blank = Scope.of(NodeXml.read("<record><port> </port></record>"));
        Fill plain = Fill.compile(new Mapping(List.of(Rule.xpath("Ask/port", "port"))), asks, EXPRESSIONS);
        assertEquals(
                plain.run(blank).problems(), List.of(Problem.ofRow("Ask/port", "unfilled", "is required, but blank")));
        Fill meant = Fill.compile(
                new Mapping(List.of(new Rule("Ask/port", "port", null, null, null, null, Mapping.WhenEmpty.KEEP))),
                asks,
                EXPRESSIONS);
        assertEquals(meant.run(blank).problems(), List.of());
    }

    @Test
    public void aMessageWithoutEndIsCutOffAndSaysSo() throws Exception {
        Shape line = Shape.element("line")
                .occurs(0, Shape.UNBOUNDED)
                .scalar(org.wirekettle.shape.ScalarType.builtIn("string"))
                .build();
        Shape page = Shape.element("page")
                .occurs(0, Shape.UNBOUNDED)
                .children(() -> List.of(line))
                .build();
        Shape book = Shape.record(
                "message",
                List.of(Shape.element("book").children(() -> List.of(page)).build()));
        Fill f = Fill.compile(
                new Mapping(List.of(
                        new Rule("book/page", null, null, "l", null, null, null),
                        new Rule("book/page/line", ".", null, "$record/l", null, null, null))),
                book,
                EXPRESSIONS);
        assertEquals(f.problems(), List.of());
        Fill.Filled filled = f.run(Scope.of(NodeXml.read("<r>" + "<l>1</l>".repeat(2_000) + "</r>")));
        assertEquals(
                filled.problems().stream().map(Problem::text).toList(),
                List.of("makes more than 1000000 elements or 64000000 characters, the limit for one message"));
        assertTrue(filled.body().length() < 64_000_000);
    }

    @Test
    public void rulesThatCannotWorkAreAllListed() {
        Fill f = Fill.compile(
                new Mapping(List.of(
                        Rule.xpath("Do/id", "1 +"),
                        Rule.xpath("Do/nowhere", "a"),
                        Rule.text("Do/cargo/weight", "heavy"),
                        Rule.text("Do/cargo", "x"),
                        new Rule("Do/hold", null, null, null, "{urn:t}Ship", null, null))),
                target,
                EXPRESSIONS);
        assertEquals(
                f.problems().stream()
                        .filter(p -> !p.code().equals("unfilled"))
                        .map(p -> p.row() + " " + p.code())
                        .sorted()
                        .toList(),
                List.of("Do/cargo row", "Do/cargo/weight value", "Do/hold row", "Do/id expression", "Do/nowhere row"));
    }

    @Test
    public void suggestionsGoByNameAndType() {
        List<ShapeRows.Row> rows = ShapeRows.of(target, Map.of(), Set.of());
        List<Matching.Suggestion> s = Matching.suggest(
                rows,
                List.of(
                        new Matching.SourceField("ID", "integer", null),
                        new Matching.SourceField("cargo_weight", "decimal", null),
                        new Matching.SourceField("e_mail", "string", null),
                        new Matching.SourceField("nAme", "string", null)));
        Map<String, String> byPath = new java.util.TreeMap<>();
        s.forEach(x -> byPath.put(x.path(), x.xpath()));
        assertEquals(byPath.get("Do/id"), "ID");
        assertEquals(byPath.get("Do/cargo/weight"), "cargo_weight");
        assertTrue(
                Matching.suggest(rows, List.of(new Matching.SourceField("id", "string", null))).stream()
                        .noneMatch(x -> x.path().equals("Do/id")),
                "a text is not offered for a number");
    }
}
