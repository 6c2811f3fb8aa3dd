package org.wirekettle.trigger;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import org.wirekettle.connector.Field;
import org.wirekettle.flow.Reply;
import org.wirekettle.flow.Taken;
import org.wirekettle.input.InputReading;
import org.wirekettle.input.InputXsd;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.ValueKind;
import org.wirekettle.soap.SoapRequest;

/** Messages made of a flow's inputs and reply: document/literal, wrapped (WSDL 1.1 §3.5). */
final class OwnMessages implements SoapMessages {
    /** Of each record, where a reply may have any number of them. */
    private static final String RECORD = "record";

    private final QualifiedName request;
    private final QualifiedName answer;
    private final Taken taken;

    OwnMessages(SoapTrigger trigger, Taken taken) {
        this.request = trigger.request();
        this.answer = new QualifiedName(request.namespace(), request.local() + "Response");
        this.taken = taken;
    }

    @Override
    public QualifiedName request() {
        return request;
    }

    QualifiedName answer() {
        return answer;
    }

    /** The complex type of the request's element, as XML Schema. */
    String requestType() {
        return InputXsd.type(taken.inputs().definition());
    }

    String answerType() {
        Reply.Form form = taken.reply();
        if (form == null) {
            return "<xs:complexType/>";
        }
        String one = FieldXsd.type(form.fields());
        return !form.isList()
                ? one
                : "<xs:complexType><xs:sequence><xs:element name=\"" + RECORD
                        + "\" minOccurs=\"0\" maxOccurs=\"unbounded\">" + one
                        + "</xs:element></xs:sequence></xs:complexType>";
    }

    @Override
    public Read read(SoapRequest message, Instant now) {
        InputReading reading = taken.inputs().reading();
        reading.tree(message.body().get(0));
        InputReading.Result out = reading.finish(now, now.toEpochMilli());
        return new Read(out.record(), out.problems());
    }

    @Override
    public Sent reply(Reply reply) {
        Node out = new Node(answer.namespace(), answer.local());
        if (reply != null && reply.form().isList()) {
            reply.records().forEach(r -> out.add(named(r, RECORD, reply.form().fields())));
        } else if (reply != null) {
            fill(out, reply.records().get(0), reply.form().fields());
        }
        return new Sent(null, "", NodeXml.write(out));
    }

    private Node named(Node value, String name, List<Field> fields) {
        Node out = new Node(answer.namespace(), name);
        fill(out, value, fields);
        return out;
    }

    /** In the order and the namespace of the WSDL; what is not known there is as it came. */
    private void fill(Node to, Node from, List<Field> fields) {
        if (fields.isEmpty()) {
            from.attributes().stream()
                    .filter(a -> !a.namespace().startsWith("http://www.w3.org/"))
                    .forEach(a -> to.addAttribute(a.copy()));
            from.children().forEach(c -> to.add(c.copy()));
            if (from.isLeaf() && !from.string().isEmpty()) {
                to.text(from.string());
            }
            return;
        }
        for (Field f : fields) {
            if (FieldXsd.isAttribute(f)) {
                Node a = from.attribute(f.name().substring(1));
                if (a != null && isValue(f, a)) {
                    to.addAttribute(Node.leaf(a.name(), a.string()));
                }
                continue;
            }
            for (Node c : from.children()) {
                if (!c.name().equals(f.name())) {
                    continue;
                }
                if (f.fields() != null) {
                    to.add(named(c, f.name(), f.fields()));
                } else if (isValue(f, c)) {
                    Node leaf = new Node(answer.namespace(), f.name());
                    leaf.text(c.string());
                    to.add(leaf);
                }
            }
        }
    }

    /** An empty text is a value; an empty number is none. */
    private static boolean isValue(Field f, Node n) {
        boolean isText = ValueKind.of(FieldXsd.type(f)) == ValueKind.TEXT;
        return !n.isNil() && (isText || !n.string().isBlank());
    }

    @Override
    public String request(String sample) {
        if (SampleJson.of(sample).isEmpty()) {
            throw new Refused("sample.json", null, "A sample is a JSON object: {\"name\": value, …}.");
        }
        InputReading reading = taken.inputs().reading();
        reading.json(sample.getBytes(StandardCharsets.UTF_8), Set.of());
        return NodeXml.write(qualified(reading.given().record(), request.local()));
    }

    private Node qualified(Node from, String name) {
        Node out = new Node(request.namespace(), name);
        from.children().forEach(c -> out.add(qualified(c, c.name())));
        if (from.isLeaf()) {
            out.text(from.string());
        }
        return out;
    }
}
