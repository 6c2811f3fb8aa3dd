package org.wirekettle.connector.file;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/** The end of a file that is to go on. */
final class FileEnd {
    private static final int LOOKED_BACK = 4_096;

    private FileEnd() {}

    /**
     * Takes the end off, and the white space around it.
     *
     * @return false when the file ends otherwise; it is left as it is then
     */
    static boolean cut(Path file, String end) throws IOException {
        try (FileChannel out = FileChannel.open(file, StandardOpenOption.READ, StandardOpenOption.WRITE)) {
            long size = out.size();
            int length = (int) Math.min(LOOKED_BACK, size);
            ByteBuffer last = ByteBuffer.allocate(length);
            while (last.hasRemaining() && out.read(last, size - length + last.position()) >= 0) {
                // to its end
            }
            String kept = new String(last.array(), StandardCharsets.ISO_8859_1).stripTrailing();
            if (!kept.endsWith(end)) {
                return false;
            }
            kept = kept.substring(0, kept.length() - end.length()).stripTrailing();
            out.truncate(size - length + kept.length());
            return true;
        }
    }
}
