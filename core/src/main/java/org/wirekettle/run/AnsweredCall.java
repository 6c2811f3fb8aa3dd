package org.wirekettle.run;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.call.Exchange;
import org.wirekettle.flow.Trail;
import org.wirekettle.record.ByteWriter;

/**
 * A call that a waiting record has been answered before something later set it aside. Going on uses the answer instead
 * of calling again.
 *
 * @param path the call's key
 * @param digest of its request
 */
public record AnsweredCall(String path, byte[] digest, Exchange exchange) {
    /** Stands where earlier versions wrote how many there are; theirs were known by their number. */
    private static final int BY_PATH = -2;

    /** Those of a record that need not be made again: answers that count, but not the one that set it aside. */
    public static List<AnsweredCall> of(Trail t) {
        return t.events().stream()
                .filter(e -> e.exchange() != null
                        && e.call() != null
                        && e.isKept()
                        && !e.path().equals(t.failedPath()))
                .map(e -> new AnsweredCall(e.path(), e.call().digest(), e.exchange()))
                .toList();
    }

    /** Of a trail that was kept: without digests, they go on for whatever request is made. */
    public static List<AnsweredCall> of(TrailBlock.Kept t) {
        return t.events().stream()
                .filter(e -> e.exchange() != null && e.exchange().outcome() == Exchange.Outcome.ANSWERED)
                .map(e -> new AnsweredCall(e.path(), new byte[0], e.exchange()))
                .toList();
    }

    /** @return null for none */
    public static byte[] write(List<AnsweredCall> calls) {
        if (calls.isEmpty()) {
            return null;
        }
        ByteWriter out = new ByteWriter(4_096);
        out.int32(BY_PATH);
        out.int32(calls.size());
        for (AnsweredCall c : calls) {
            byte[] path = c.path.getBytes(StandardCharsets.UTF_8);
            out.int16(path.length);
            out.raw(path);
            out.sized(c.digest);
            ExchangeBytes.write(c.exchange, out);
        }
        return out.toBytes();
    }

    /** @param bytes may be null */
    public static List<AnsweredCall> read(byte[] bytes) {
        List<AnsweredCall> out = new ArrayList<>();
        if (bytes == null) {
            return out;
        }
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(bytes))) {
            int first = in.readInt();
            boolean isByPath = first == BY_PATH;
            for (int n = isByPath ? in.readInt() : first; n > 0; n--) {
                String path = isByPath ? in.readUTF() : OldJournal.key(in.readInt());
                out.add(new AnsweredCall(path, in.readNBytes(in.readInt()), ExchangeBytes.read(in)));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("a kept answer is damaged", e);
        }
        return out;
    }
}
