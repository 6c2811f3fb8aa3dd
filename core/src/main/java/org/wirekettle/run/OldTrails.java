package org.wirekettle.run;

import java.io.DataInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.Exchange.Outcome;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Trails as earlier versions kept them: the record as XML, steps by their number from 0. */
final class OldTrails {
    private OldTrails() {}

    static TrailBlock.Kept readOne(DataInputStream in, boolean withHeaders) throws IOException {
        long number = in.readLong();
        long start = in.readLong();
        Fate fate = Fate.values()[in.readByte()];
        int failedStep = in.readInt();
        String code = TrailBlock.text(in);
        String reason = TrailBlock.text(in);
        Node record = record(TrailBlock.text(in));
        in.readInt();
        List<Trail.Event> events = new ArrayList<>();
        for (int n = in.readInt(); n > 0; n--) {
            String step = String.valueOf(in.readInt());
            long at = in.readLong();
            long micros = in.readLong();
            String text = TrailBlock.text(in);
            Exchange x = withHeaders ? in.readBoolean() ? ExchangeBytes.read(in) : null : bare(in);
            events.add(new Trail.Event(step, at, micros, text, x, null));
        }
        return new TrailBlock.Kept(
                number,
                start,
                fate,
                failedStep < 0 ? null : String.valueOf(failedStep),
                code,
                reason,
                record,
                events,
                List.of());
    }

    private static Node record(String xml) throws IOException {
        try {
            return NodeXml.read(xml);
        } catch (XMLStreamException e) {
            throw new IOException(e);
        }
    }

    private static Exchange bare(DataInputStream in) throws IOException {
        int outcome = in.readByte();
        if (outcome < 0) {
            return null;
        }
        int status = in.readInt();
        long wait = in.readLong();
        long read = in.readLong();
        String problem = TrailBlock.text(in);
        byte[] request = TrailBlock.bytes(in);
        return new Exchange(
                Outcome.values()[outcome],
                null,
                List.of(),
                request,
                status,
                List.of(),
                TrailBlock.bytes(in),
                problem,
                wait,
                read);
    }
}
