package org.wirekettle.trigger;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.file.JsonRows;
import org.wirekettle.flow.Reply;
import org.wirekettle.record.NodeXml;

/** A reply as whoever asked reads it: JSON (RFC 8259), or XML, in UTF-8. */
public final class ReplyText {
    private ReplyText() {}

    public static byte[] json(Reply reply) {
        List<Field> fields = reply.form().fields();
        if (!reply.form().isList()) {
            return trimmed(new JsonRows(fields, true).rows(reply.records(), true));
        }
        JsonRows rows = new JsonRows(fields, false);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(rows.head());
        out.writeBytes(rows.rows(reply.records(), true));
        out.writeBytes(rows.tail());
        return out.toByteArray();
    }

    private static byte[] trimmed(byte[] line) {
        return line.length > 0 && line[line.length - 1] == '\n' ? Arrays.copyOf(line, line.length - 1) : line;
    }

    static byte[] xml(Reply reply) {
        StringBuilder out = new StringBuilder("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n");
        if (!reply.form().isList()) {
            out.append(NodeXml.write(reply.records().get(0)));
        } else {
            out.append("<records>");
            reply.records().forEach(r -> out.append(NodeXml.write(r)));
            out.append("</records>");
        }
        return out.toString().getBytes(StandardCharsets.UTF_8);
    }
}
