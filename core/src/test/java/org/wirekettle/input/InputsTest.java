package org.wirekettle.input;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.testng.annotations.AfterClass;
import org.testng.annotations.Test;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.Expressions;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.NodeXml;

/** What a request gives becomes a record, or all that is wrong with it is said. */
public class InputsTest {
    private static final Instant NOW = Instant.parse("2031-04-02T14:03:22Z");
    private final Expressions expressions = new Expressions();

    @AfterClass
    public void close() {
        expressions.close();
    }

    private static Input limited(
            String name, String type, boolean required, String least, String most, Integer length, String... choices) {
        return new Input(
                name, type, required, null, null, least, most, length, null, List.of(choices), null, null, null);
    }

    private static Input otherwise(String name, String type, String xpath) {
        return new Input(name, type, null, null, xpath, null, null, null, null, null, null, null, null);
    }

    private static Input many(Input i) {
        return new Input(
                i.name(), i.type(), i.required(), true, null, null, null, null, null, null, null, null, i.fields());
    }

    private static Input nested(String name, Input... inside) {
        return new Input(
                name, Field.NESTED, null, null, null, null, null, null, null, null, null, null, List.of(inside));
    }

    private final List<Input> berths = List.of(
            limited("port", "string", true, null, null, 5),
            otherwise("from", "dateTime", "current-dateTime()"),
            limited("draught", "decimal", true, "0", "30", null),
            limited("kind", null, false, null, null, null, "bulk", "box"),
            many(nested("cargo", Input.of("code", "string", true), Input.of("tonnes", "integer", false))));

    private InputReading.Result json(List<Input> inputs, String body, String... elsewhere) {
        InputReading reading = compiled(inputs).reading();
        reading.json(body.getBytes(StandardCharsets.UTF_8), Set.of(elsewhere));
        return reading.finish(NOW, 1);
    }

    private Inputs compiled(List<Input> inputs) {
        Inputs out = Inputs.compile(inputs, expressions);
        assertEquals(out.problems(), List.of());
        return out;
    }

    private static List<String> words(InputReading.Result r) {
        return r.problems().stream().map(InputProblem::inWords).toList();
    }

    @Test
    public void aBodyBecomesARecordInTheOrderOfItsInputs() {
        InputReading.Result r = json(berths, """
            {"draught": 7.20, "cargo": [{"tonnes": 12, "code": "A"}, {"code": "B"}], "port": "TLWRC", "kind": null}""");
        assertEquals(words(r), List.of());
        assertEquals(
                NodeXml.write(r.record()),
                "<record><port>TLWRC</port><from>2031-04-02T14:03:22Z</from><draught>7.20</draught>"
                        + "<cargo><code>A</code><tonnes>12</tonnes></cargo><cargo><code>B</code></cargo></record>");
    }

    @Test
    public void allThatIsWrongIsSaidAtOnce() {
        InputReading.Result r = json(berths, """
            {"draught": "7,2", "kind": "tank", "cargo": {"code": "A"}, "berth": 1, "a/b": 2, "from": "tonight"}""");
        List<String> said = words(r);
        assertEquals(said.size(), 7, said.toString());
        assertTrue(said.get(0).startsWith("/draught is “7,2”, is no number"), said.get(0));
        assertTrue(said.get(1).startsWith("/kind “tank” is none of"), said.get(1));
        assertEquals(said.get(2), "/cargo is no list");
        assertTrue(said.get(3).startsWith("/berth is not known here; there are port, from, draught"), said.get(3));
        assertTrue(said.get(4).startsWith("/a~1b is not known here"), said.get(4));
        assertTrue(said.get(5).startsWith("/from “tonight”"), said.get(5));
        assertEquals(said.get(6), "/port is missing");
    }

    @Test
    public void limitsAreKept() {
        assertEquals(
                words(json(berths, "{\"port\": \"TOOLONG\", \"draught\": 31}")).size(), 2);
        assertEquals(
                words(json(berths, "{\"port\": \"TLWRC\", \"draught\": 1, \"cargo\": [{\"tonnes\": 1.5}]}"))
                        .size(),
                2,
                "no integer, and the code is missing");
    }

    @Test
    public void whatIsNoJsonObjectIsSaidWithItsPlace() {
        assertEquals(words(json(List.of(), "")), List.of(" there is no body"));
        assertEquals(words(json(List.of(), "[]")), List.of(" is no JSON object"));
        assertTrue(words(json(List.of(), "{\"a\": ")).toString().contains("line 1"));
        assertTrue(words(json(List.of(), "{} {}")).toString().contains("something after the end"));
        assertTrue(words(json(berths, "{\"port\": \"A\", \"port\": \"B\", \"draught\": 1}"))
                .contains("/port is there twice"));
    }

    @Test
    public void textsOfAPathOrQueryAreReadByType() {
        InputReading reading = compiled(berths).reading();
        reading.texts("port", "path port", List.of("TLWRC"));
        reading.texts("draught", "query draught", List.of("7,2"));
        reading.texts("kind", "query kind", List.of("bulk", "box"));
        reading.texts("cargo", "query cargo", List.of("{\"code\": \"A\"}", "{\"code\": 1}"));
        assertEquals(
                words(reading.finish(NOW, 1)).stream()
                        .map(s -> s.replaceAll("( is | “).*", ""))
                        .toList(),
                List.of("query draught", "query kind", "query cargo/code"));
    }

    @Test
    public void whatComesFromElsewhereIsNotInTheBody() {
        assertTrue(words(json(berths, "{\"port\": \"A\", \"draught\": 1}", "port")).stream()
                .anyMatch(s -> s.startsWith("/port is not known here")));
    }

    @Test
    public void aRecordMendedByHandIsReadLikewise() throws Exception {
        InputReading reading = compiled(berths).reading();
        reading.tree(NodeXml.read("<record><port>A</port><draught>x</draught><cargo><code>A</code></cargo>"
                + "<cargo/><wind/></record>"));
        assertEquals(
                words(reading.finish(NOW, 1)).stream()
                        .map(s -> s.replaceAll("( is | “).*", ""))
                        .toList(),
                List.of("/draught", "/cargo/1/code", "/wind"));
    }

    @Test
    public void anyJsonIsItsText() {
        InputReading.Result r = json(
                List.of(Input.of("more", Field.JSON, false), Input.of("free", Field.NESTED, false)),
                "{\"more\": {\"a\": [1, null]}, \"free\": {\"x y\": {\"z\": true}}}");
        assertEquals(
                NodeXml.write(r.record()),
                "<record><more>{&quot;a&quot;:[1,null]}</more><free><x_x0020_y><z>true</z></x_x0020_y></free></record>");
    }

    @Test
    public void definitionsThatCannotBeAreRefused() {
        List<Problem> problems = Inputs.compile(
                        List.of(
                                Input.of("a", "strong", false),
                                Input.of("b", "integer", false),
                                Input.of("b", "integer", false),
                                limited("c", "string", false, "1", null, null),
                                limited("d", "integer", false, "one", null, null),
                                limited("e", "integer", false, null, null, 3),
                                nested("f", Input.of("", null, false))),
                        expressions)
                .problems();
        assertEquals(
                problems.stream().map(Problem::row).toList(),
                List.of("a", "b", "c", "d", "e", "f/"),
                problems.toString());
        assertEquals(
                Inputs.compile(List.of(otherwise("x", null, "concat(")), expressions)
                        .problems()
                        .size(),
                1);
    }

    @Test
    public void theSchemaSaysTheSame() {
        String schema = InputSchema.of(berths, Set.of("port")).toString();
        Stream.of(
                        "\"draught\":{\"type\":\"number\",\"minimum\":0,\"maximum\":30}",
                        "\"enum\":[\"bulk\",\"box\"]",
                        "\"cargo\":{\"type\":\"array\",\"items\":{\"type\":\"object\"",
                        "\"required\":[\"draught\"],\"additionalProperties\":false")
                .forEach(part -> assertTrue(schema.contains(part), part + " in " + schema));
        assertTrue(InputXsd.of(berths).contains("<xs:maxInclusive value=\"30\"/>"));
    }
}
