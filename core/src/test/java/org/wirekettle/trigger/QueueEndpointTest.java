package org.wirekettle.trigger;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.testng.annotations.AfterClass;
import org.testng.annotations.Test;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.queue.QueueMessage;
import org.wirekettle.expression.Expressions;
import org.wirekettle.flow.Reply;
import org.wirekettle.flow.Taken;
import org.wirekettle.input.Input;
import org.wirekettle.input.Inputs;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.trigger.MessageInputs.MessagePart;
import org.wirekettle.trigger.MessageInputs.MessagePlace;

/** Messages become records, and replies become messages. */
public class QueueEndpointTest {
    private static final Instant NOW = Instant.parse("2031-04-02T14:03:22Z");
    private final Expressions expressions = new Expressions();

    @AfterClass
    public void close() {
        expressions.close();
    }

    private QueueEndpoint endpoint(String replies, MessagePlace... places) {
        List<Input> inputs = List.of(
                Input.of("port", "string", true),
                Input.of("draught", "decimal", false),
                Input.of("agency", "string", false));
        return QueueEndpoint.of(
                new QueueTrigger("c", "wanted", null, null, null, "failed", replies, List.of(places), null, null),
                new Taken(null, Inputs.compile(inputs, expressions), null));
    }

    private static QueueMessage message(String body, String... properties) {
        Map<String, String> all = properties.length == 0 ? Map.of() : Map.of(properties[0], properties[1]);
        return new QueueMessage(
                "ID:7", null, null, null, null, 1, all, body.getBytes(StandardCharsets.UTF_8), true, null);
    }

    private static String read(QueueEndpoint e, QueueMessage m) {
        return NodeXml.write(e.read(m, NOW));
    }

    @Test
    public void theFirstSignOfABodySaysWhatItIs() {
        QueueEndpoint e = endpoint(null);
        String expected = "<record><port>TLWRC</port><draught>7.20</draught></record>";
        assertEquals(read(e, message("{\"port\":\"TLWRC\",\"draught\":7.20}")), expected);
        assertEquals(read(e, message(" <a><port>TLWRC</port><draught>7.20</draught></a>")), expected);
    }

    @Test
    public void inputsComeFromPropertiesAndTheWholeBody() {
        QueueEndpoint e = endpoint(
                null,
                new MessagePlace("port", MessagePart.WHOLE, null),
                new MessagePlace("agency", MessagePart.PROPERTY, "from"),
                new MessagePlace("draught", MessagePart.PROPERTY, null));
        assertEquals(
                read(e, message("{not json", "from", "Gannet & Sole")),
                "<record><port>{not json</port><agency>Gannet &amp; Sole</agency></record>");
        QueueEndpoint id = endpoint(null, new MessagePlace("agency", MessagePart.PROPERTY, "message-id"));
        assertEquals(
                read(id, message("{\"port\":\"TLWRC\"}")), "<record><port>TLWRC</port><agency>ID:7</agency></record>");
    }

    @Test
    public void whatDoesNotFitIsARecordThatSaysSo() {
        QueueEndpoint e = endpoint(null);
        Node some = e.read(message("{\"port\":\"TLWRC\",\"draught\":\"deep\",\"berth\":1}"), NOW);
        assertEquals(
                BadRecord.reason(some).orElseThrow(),
                "/draught is “deep”, is no number; /berth is not known here; there are port, draught, agency");
        assertTrue(NodeXml.write(some).contains("<port>TLWRC</port>"), "what fits is there to be mended");
        Node none = e.read(message("<<<"), NOW);
        assertTrue(BadRecord.reason(none).isPresent());
        assertTrue(none.string().contains("<<<"), "the text itself is there");
        QueueMessage large = new QueueMessage(
                "ID:8", null, null, null, null, 1, Map.of(), new byte[0], false, "the body has more than 10 bytes");
        assertEquals(BadRecord.reason(e.read(large, NOW)), Optional.of("the body has more than 10 bytes"));
    }

    @Test
    public void anAnswerIsOfTheLanguageOfItsMessage() {
        Reply reply = new Reply(
                new Reply.Form(List.of(Field.of("free", "free", "integer")), false),
                List.of(new Node("", "record").add(Node.leaf("free", "3"))));
        KeptReply kept = KeptReply.of(reply);
        QueueEndpoint e = endpoint("booked");
        QueueMessage json = e.answer(message("{\"port\":\"TLWRC\"}"), kept);
        assertEquals(new String(json.body(), StandardCharsets.UTF_8), "{\"free\":3}");
        assertEquals(json.correlation(), "ID:7");
        QueueMessage xml = e.answer(message("<a><port>TLWRC</port></a>"), kept);
        assertTrue(new String(xml.body(), StandardCharsets.UTF_8).endsWith("<record><free>3</free></record>"));
        assertEquals(e.replyTo(message("")), Optional.of("booked"));
        assertEquals(e.replyTo(message("").answeredTo("mine")), Optional.of("mine"));
    }

    @Test
    public void whatFailedSaysWhyAndKeepsWhatItWas() {
        QueueMessage failed = endpoint(null)
                .failed(message("{}", "voyage", "V-7").answeredTo("mine"), "fault X", "no such port", 12, 3L);
        assertEquals(
                failed.properties(),
                Map.of(
                        "voyage",
                        "V-7",
                        "wk_failure",
                        "fault X",
                        "wk_reason",
                        "no such port",
                        "wk_run",
                        "12",
                        "wk_record",
                        "3"));
        assertEquals(failed.replyTo(), "mine");
    }

    @Test
    public void whatDoesNotGoTogetherIsRefused() {
        expectThrows(Refused.class, () -> endpoint("wanted"));
        expectThrows(Refused.class, () -> endpoint(null, new MessagePlace("x", MessagePart.WHOLE, null)));
        // A whole body as text leaves no members for the others.
        expectThrows(Refused.class, () -> endpoint(null, new MessagePlace("port", MessagePart.WHOLE, null)));
        MessagePlace twice = new MessagePlace("port", MessagePart.PROPERTY, null);
        expectThrows(Refused.class, () -> endpoint(null, twice, twice));
    }
}
