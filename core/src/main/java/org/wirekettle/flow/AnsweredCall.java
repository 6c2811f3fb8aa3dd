package org.wirekettle.flow;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import org.wirekettle.call.Exchange;

/**
 * A call that a waiting record has been answered before something later set it aside. Going on uses the answer instead
 * of calling again.
 *
 * @param index the record's how-manieth call, from 0
 * @param digest of its request
 */
public record AnsweredCall(int index, byte[] digest, Exchange exchange) {
    /** @return null for none */
    public static byte[] write(List<AnsweredCall> calls) {
        if (calls.isEmpty()) {
            return null;
        }
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (DataOutputStream out = new DataOutputStream(bytes)) {
            out.writeInt(calls.size());
            for (AnsweredCall c : calls) {
                out.writeInt(c.index);
                out.writeInt(c.digest.length);
                out.write(c.digest);
                ExchangeBytes.write(c.exchange, out);
            }
        } catch (IOException e) {
            throw new UncheckedIOException("memory does not fail", e);
        }
        return bytes.toByteArray();
    }

    /** @param bytes may be null */
    public static List<AnsweredCall> read(byte[] bytes) {
        List<AnsweredCall> out = new ArrayList<>();
        if (bytes == null) {
            return out;
        }
        try (DataInputStream in = new DataInputStream(new ByteArrayInputStream(bytes))) {
            for (int n = in.readInt(); n > 0; n--) {
                out.add(new AnsweredCall(in.readInt(), in.readNBytes(in.readInt()), ExchangeBytes.read(in)));
            }
        } catch (IOException e) {
            throw new UncheckedIOException("a kept answer is damaged", e);
        }
        return out;
    }
}
