package org.wirekettle.run;

import java.util.Arrays;
import org.wirekettle.record.ByteWriter;

/**
 * Packs one block after the other in the same memory. Blocks are larger than what a collector moves: made anew for each
 * portion, they had it mark the whole heap twice a second. Used by one thread.
 */
final class Packer {
    /** More is not kept from one block to the next. */
    private static final int MAX_KEPT = 4 * 1024 * 1024;

    private static final int FIRST_BYTES = 256 * 1024;

    private ByteWriter plain = new ByteWriter(FIRST_BYTES);
    private byte[] packed = new byte[0];

    /** What is to be packed is written here. */
    ByteWriter begin() {
        plain.clear();
        return plain;
    }

    byte[] pack(int format) {
        int size = Packed.maxSize(plain);
        if (packed.length < size) {
            packed = new byte[size + size / 4];
        }
        byte[] out = Arrays.copyOf(packed, Packed.pack(format, plain, packed));
        if (plain.memory().length > MAX_KEPT) {
            plain = new ByteWriter(FIRST_BYTES);
            packed = new byte[0];
        }
        return out;
    }
}
