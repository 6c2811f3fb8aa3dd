package org.wirekettle.record;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * Bytes that are put together; numbers have their highest byte first, as {@link java.io.DataInputStream} reads them.
 * Belongs to one thread: this is done for every record, where the locks of the JDK's streams are felt.
 */
public final class ByteWriter {
    private byte[] bytes;
    private int length;

    /** @param expected bytes; it grows as needed */
    public ByteWriter(int expected) {
        bytes = new byte[expected];
    }

    private int need(int more) {
        if (more > bytes.length - length) {
            bytes = Arrays.copyOf(bytes, Math.max(Math.addExact(length, more), (int)
                    Math.min(bytes.length * 2L, Integer.MAX_VALUE - 8)));
        }
        int at = length;
        length += more;
        return at;
    }

    public void int8(int n) {
        int at = need(1);
        bytes[at] = (byte) n;
    }

    public void int16(int n) {
        int at = need(2);
        bytes[at] = (byte) (n >> 8);
        bytes[at + 1] = (byte) n;
    }

    public void int32(int n) {
        int at = need(4);
        bytes[at] = (byte) (n >> 24);
        bytes[at + 1] = (byte) (n >> 16);
        bytes[at + 2] = (byte) (n >> 8);
        bytes[at + 3] = (byte) n;
    }

    public void int64(long n) {
        int32((int) (n >> 32));
        int32((int) n);
    }

    /** A number that is not negative, as long as it needs to be: seven bits a byte. */
    public void packed(int n) {
        int left = n;
        while (left > 0x7F) {
            int8(left | 0x80);
            left >>>= 7;
        }
        int8(left);
    }

    public void raw(byte[] some) {
        int at = need(some.length);
        System.arraycopy(some, 0, bytes, at, some.length);
    }

    /** Bytes after how many there are. */
    public void sized(byte[] some) {
        int32(some.length);
        raw(some);
    }

    /** In UTF-8, after how many bytes that is; null is told from the empty text. */
    public void text(String s) {
        if (s == null) {
            int32(-1);
        } else {
            sized(s.getBytes(StandardCharsets.UTF_8));
        }
    }

    public byte[] toBytes() {
        return Arrays.copyOf(bytes, length);
    }
}
