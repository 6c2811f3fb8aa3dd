package org.wirekettle.contract;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.contract.Operation.Message;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.ReadBack;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ShapeRows;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.XmlElement;

/**
 * For every operation of every description in the corpus: its examples are valid, also by a second validator, and rows
 * and XML say the same.
 */
public class ExamplesTest {
    private static final Path CORPUS = Path.of("src/test/resources/corpus");
    private static final Expressions EXPRESSIONS = new Expressions();

    private static List<Path> descriptions() throws Exception {
        try (var files = Files.walk(CORPUS)) {
            return files.filter(f -> f.toString().endsWith(".wsdl")).sorted().toList();
        }
    }

    private static Contract read(Path wsdl) {
        return WsdlReader.read(
                wsdl.toAbsolutePath().toString(), new Documents(uri -> Files.readAllBytes(Path.of(uri))));
    }

    /** A message of an operation; with a short name, since it is printed. */
    private record Case(String name, Contract contract, Operation operation, Message message, SecondOpinion second) {
        @Override
        public String toString() {
            return name;
        }
    }

    @DataProvider
    public Object[][] messages() throws Exception {
        List<Object[]> out = new ArrayList<>();
        for (Path wsdl : descriptions()) {
            Contract c = read(wsdl);
            if (c.ports().isEmpty()) {
                continue;
            }
            // A description that is not even well-formed is nothing for another reader, nor one over several WSDL
            // files, nor are messages that hold a schema, nor RPC wrappers.
            boolean forOthers = !wsdl.endsWith("sloppy.wsdl")
                    && !wsdl.endsWith("cargo/main.wsdl")
                    && !wsdl.endsWith("dataset.wsdl")
                    && !wsdl.endsWith("pages-asmx.wsdl")
                    // A namespace name that is no URI is one that other validator will not have.
                    && !wsdl.endsWith("template.wsdl")
                    && c.ports().get(0).operations().get(0).request().wrapper() == null;
            SecondOpinion second = forOthers ? new SecondOpinion(wsdl) : null;
            c.ports().forEach(p -> p.operations().stream()
                    .filter(Operation::isUsable)
                    .forEach(o -> {
                        out.add(new Object[] {
                            new Case(CORPUS.relativize(wsdl) + " " + o.name() + " request", c, o, o.request(), second)
                        });
                        if (o.answer() != null) {
                            out.add(new Object[] {
                                new Case(CORPUS.relativize(wsdl) + " " + o.name() + " answer", c, o, o.answer(), second)
                            });
                        }
                    }));
        }
        assertTrue(out.size() > 35, "the corpus has " + out.size() + " messages");
        return out.toArray(new Object[0][]);
    }

    @Test(dataProvider = "messages")
    public void examplesAreValidAndRowsAndXmlSayTheSame(Case of) throws Exception {
        Contract c = of.contract;
        Operation o = of.operation;
        Message message = of.message;
        SecondOpinion second = of.second;
        for (boolean full : new boolean[] {false, true}) {
            Mapping rules = Examples.of(message.root(), full);
            String envelope = write(o, message, rules);
            XmlElement root = XmlElement.parse("example", envelope);
            XmlElement body = root.children().get(root.children().size() - 1);
            assertEquals(MessageCheck.check(c, message, body, envelope).toString(), "[]", envelope);
            if (second != null) {
                assertEquals(
                        second.problems(body.children().get(0).standalone(envelope))
                                .toString(),
                        "[]",
                        envelope);
            }
            ReadBack.Result back = ReadBack.of(message.root(), root, envelope);
            assertEquals(back.lost().toString(), "[]", envelope);
            assertEquals(
                    canonical(XmlElement.parse("again", write(o, message, back.mapping()))),
                    canonical(root),
                    of.name + (full ? ", everything" : ", required only"));
        }
    }

    @Test(dataProvider = "messages")
    public void everyMessageIsLaidOutAndComparesToItself(Case of) {
        List<String> paths = ShapeRows.of(of.message.root(), Map.of(), Set.of()).stream()
                .map(ShapeRows.Row::path)
                .toList();
        assertEquals(new HashSet<>(paths).size(), paths.size(), paths.toString());
        assertEquals(paths.isEmpty(), of.message.root().children().isEmpty());
        String port = of.contract.ports().get(0).name();
        assertTrue(Comparison.forCallers(of.contract, of.contract, port, of.operation.name())
                .isSame());
    }

    private static String write(Operation o, Message message, Mapping rules) {
        Fill fill = Fill.compile(rules, message.root(), EXPRESSIONS);
        assertEquals(fill.problems().toString(), "[]");
        Fill.Filled filled = fill.run(Scope.of(new Node("", "record")));
        assertEquals(filled.problems().toString(), "[]", filled.body());
        return new String(
                Envelopes.write(SoapVersion.SOAP11, o.use(), filled.headers(), filled.body()), StandardCharsets.UTF_8);
    }

    /** Names, attributes and texts, without what the writing leaves open: prefixes and the order of attributes. */
    private static String canonical(XmlElement e) {
        Map<String, String> attributes = new TreeMap<>();
        e.attributes()
                .forEach((k, v) -> attributes.put(
                        k, k.endsWith("}type") || k.endsWith("}arrayType") ? v.replaceAll("^\\w+:", "") : v));
        StringBuilder out = new StringBuilder("<{" + e.namespace() + "}" + e.name() + attributes + ">");
        if (e.children().isEmpty()) {
            out.append(e.ownText());
        }
        e.children().forEach(child -> out.append(canonical(child)));
        return out.append("</>").toString();
    }
}
