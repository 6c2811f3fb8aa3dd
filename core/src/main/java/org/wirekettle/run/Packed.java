package org.wirekettle.run;

import java.nio.ByteBuffer;
import java.util.Arrays;
import net.jpountz.lz4.LZ4Compressor;
import net.jpountz.lz4.LZ4Factory;
import net.jpountz.lz4.LZ4FastDecompressor;
import org.wirekettle.record.ByteWriter;

/** Bytes packed with LZ4, after a number that tells their format and how many they were. */
final class Packed {
    private static final int HEAD_BYTES = 8;
    private static final LZ4Factory LZ4 = lz4();
    private static final LZ4Compressor COMPRESSOR = LZ4.fastCompressor();
    private static final LZ4FastDecompressor DECOMPRESSOR = LZ4.fastDecompressor();

    private Packed() {}

    /** The native one where it loads: {@code fastestInstance} only tries it under the system's class loader. */
    private static LZ4Factory lz4() {
        try {
            return LZ4Factory.nativeInstance();
        } catch (LinkageError | RuntimeException e) {
            return LZ4Factory.fastestJavaInstance();
        }
    }

    static byte[] pack(int format, ByteWriter plain) {
        byte[] out = new byte[maxSize(plain)];
        return Arrays.copyOf(out, pack(format, plain, out));
    }

    /** How much room packing may need. */
    static int maxSize(ByteWriter plain) {
        return HEAD_BYTES + COMPRESSOR.maxCompressedLength(plain.length());
    }

    /** @param into with room for {@link #maxSize}. @return how many bytes it has come to */
    static int pack(int format, ByteWriter plain, byte[] into) {
        ByteBuffer.wrap(into).putInt(format).putInt(plain.length());
        int room = into.length - HEAD_BYTES;
        return HEAD_BYTES + COMPRESSOR.compress(plain.memory(), 0, plain.length(), into, HEAD_BYTES, room);
    }

    static byte[] unpack(byte[] block) {
        return DECOMPRESSOR.decompress(block, HEAD_BYTES, ByteBuffer.wrap(block).getInt(Integer.BYTES));
    }

    /** Of an earlier version, whose one number was both the length and, by its sign, the format. */
    static byte[] unpackOld(byte[] block) {
        return DECOMPRESSOR.decompress(
                block, Integer.BYTES, Math.abs(ByteBuffer.wrap(block).getInt()));
    }
}
