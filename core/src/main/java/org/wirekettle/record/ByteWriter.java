package org.wirekettle.record;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * Bytes that are put together; numbers have their highest byte first, as {@link java.io.DataInputStream} reads them.
 * Belongs to one thread: this is done for every record, where the locks of the JDK's streams are felt.
 */
public final class ByteWriter {
    private static final char ASCII_END = 0x80;

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
            return;
        }
        int at = length;
        int32(0);
        utf8(s, 0, s.length());
        size(at);
    }

    /** In UTF-8, after how many bytes that is, {@link #packed}. */
    public void packedText(String s) {
        int size = utf8Length(s);
        packed(size);
        if (size == s.length()) {
            utf8(s, 0, size);
        } else {
            raw(s.getBytes(StandardCharsets.UTF_8));
        }
    }

    /** How many bytes {@link #text} writes. */
    public static int sizeOfText(String s) {
        return s == null ? Integer.BYTES : Integer.BYTES + utf8Length(s);
    }

    private static int utf8Length(String s) {
        for (int i = 0; i < s.length(); i++) {
            if (s.charAt(i) >= ASCII_END) {
                return s.getBytes(StandardCharsets.UTF_8).length;
            }
        }
        return s.length();
    }

    /** A part of a text in UTF-8. Mostly it is ASCII: then no array is made for it. */
    public void utf8(String s, int from, int to) {
        int start = length;
        int at = need(to - from);
        for (int i = from; i < to; i++) {
            char c = s.charAt(i);
            if (c >= ASCII_END) {
                length = start;
                raw(s.substring(from, to).getBytes(StandardCharsets.UTF_8));
                return;
            }
            bytes[at++] = (byte) c;
        }
    }

    /** Writes, where an int32 was left for it, how many bytes were written after it. */
    public void size(int at) {
        int end = length;
        length = at;
        int32(end - at - Integer.BYTES);
        length = end;
    }

    public int length() {
        return length;
    }

    /** Begins anew, in the same memory. */
    public void clear() {
        length = 0;
    }

    /** The memory itself, of which {@link #length} bytes are written. */
    public byte[] memory() {
        return bytes;
    }

    /** What was written; nothing more is written after it, unless it is cleared and more was expected than written. */
    public byte[] toBytes() {
        return length == bytes.length ? bytes : Arrays.copyOf(bytes, length);
    }
}
