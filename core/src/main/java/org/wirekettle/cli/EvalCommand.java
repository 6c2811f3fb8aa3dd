package org.wirekettle.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import javax.xml.stream.XMLStreamException;
import org.codehaus.stax2.XMLStreamReader2;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.CsvFormat;
import org.wirekettle.connector.file.CsvSource;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeReader;
import org.wirekettle.xml.FieldNames;
import org.wirekettle.xml.SafeXml;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Evaluates an expression over a file, as a mapping would over its records, and prints one item a line. */
@Command(
        name = "eval",
        description = "Evaluates an XPath 3.1 expression over a file, and prints one item a line.",
        mixinStandardHelpOptions = true)
final class EvalCommand implements Callable<Integer> {
    private static final int FAILED = 1;

    @Parameters(
            index = "0",
            paramLabel = "EXPRESSION",
            description = "as in a mapping; the record is the context and $record")
    private String source;

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "FILE",
            description = "XML or JSON: one record; CSV: each line is one. Without it the record is empty")
    private Path file;

    @Option(
            names = "--engine",
            paramLabel = "any|plain|full",
            description = "which way it is evaluated: compiled to Java (plain) or by the full engine; "
                    + "without it the fastest that takes the expression")
    private String engine = "any";

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws Exception {
        PrintWriter err = spec.commandLine().getErr();
        Expressions.Engine way;
        try {
            way = Expressions.Engine.valueOf(engine.toUpperCase(java.util.Locale.ROOT));
        } catch (IllegalArgumentException e) {
            err.println("There is no engine " + engine + "; those there are: any, plain, full.");
            return FAILED;
        }
        try (Expressions expressions = new Expressions()) {
            Expression e = expressions.compile(source, Map.of(), way);
            if (way == Expressions.Engine.ANY && !isPlain(expressions)) {
                err.println("note: evaluated by the full engine; the fast path does not take it");
            }
            return print(e);
        } catch (ExpressionFault e) {
            err.println(e.getMessage() + (e.offset() < 0 ? "" : " (at character " + (e.offset() + 1) + ")"));
        } catch (EvaluationFailed | IOException e) {
            err.println(e.getMessage());
        } catch (XMLStreamException e) {
            err.println(SafeXml.refusal(String.valueOf(file), e).getMessage());
        }
        return FAILED;
    }

    private boolean isPlain(Expressions expressions) {
        try {
            expressions.compile(source, Map.of(), Expressions.Engine.PLAIN);
            return true;
        } catch (ExpressionFault e) {
            return false;
        }
    }

    private int print(Expression e) throws EvaluationFailed, IOException, XMLStreamException {
        if (file == null) {
            items(e, new Node("", "record"));
            return Wk.USABLE;
        }
        int first;
        try (InputStream in = Files.newInputStream(file)) {
            do {
                first = in.read();
            } while (first == ' '
                    || first == '\n'
                    || first == '\r'
                    || first == '\t'
                    || first == 0xEF
                    || first == 0xBB
                    || first == 0xBF);
        }
        if (first == '<') {
            items(e, xml());
        } else if (first == '{' || first == '[') {
            JsonNode json = new ObjectMapper().readTree(Files.readAllBytes(file));
            items(e, record("record", json));
        } else {
            try (RecordSource.Stream in = new CsvSource(file, CsvFormat.recognise(file)).open()) {
                for (Node r; (r = in.next()) != null; ) {
                    items(e, r);
                }
            }
        }
        return Wk.USABLE;
    }

    private Node xml() throws IOException, XMLStreamException {
        byte[] bytes = Files.readAllBytes(file);
        XMLStreamReader2 in = SafeXml.reader(bytes, 0, bytes.length);
        try {
            in.nextTag();
            return NodeReader.element(in);
        } finally {
            in.close();
        }
    }

    /** JSON as records have it: members are elements, an array as many elements as it has items. */
    private static Node record(String name, JsonNode json) {
        Node n = new Node("", name);
        if (json.isArray()) {
            json.forEach(x -> n.add(record("item", x)));
        } else if (json.isObject()) {
            for (Iterator<Map.Entry<String, JsonNode>> fields = json.fields(); fields.hasNext(); ) {
                Map.Entry<String, JsonNode> f = fields.next();
                List<JsonNode> values = f.getValue().isArray()
                        ? java.util.stream.StreamSupport.stream(f.getValue().spliterator(), false)
                                .toList()
                        : List.of(f.getValue());
                values.forEach(v -> n.add(record(FieldNames.name(f.getKey()), v)));
            }
        } else {
            n.nil(json.isNull());
            n.text(json.isNull() ? "" : json.asText());
        }
        return n;
    }

    private void items(Expression e, Node record) throws EvaluationFailed {
        PrintWriter out = spec.commandLine().getOut();
        e.nodes(Scope.of(record)).forEach(n -> out.println(n.string()));
        out.flush();
    }
}
