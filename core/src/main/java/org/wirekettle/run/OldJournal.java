package org.wirekettle.run;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * Journals of runs that an earlier version began: a call is known by how many the record made before, which is the key
 * {@link #key} here.
 */
final class OldJournal {
    private static final int HEAD_BYTES = 1 + 8 + 4 + 4;
    private static final byte SENDING = 1;
    /** Without HTTP headers, as written before version 0.2. */
    private static final byte ENDED_BARE = 2;

    private static final byte ENDED = 3;

    private OldJournal() {}

    /** @param index the record's how-manieth call, from 0 */
    static String key(int index) {
        return "#" + index;
    }

    static void entries(JournalSegment segment, Path file, JournalSegment.Visitor visitor) throws IOException {
        ByteBuffer in = ByteBuffer.wrap(Files.readAllBytes(file));
        while (in.remaining() >= HEAD_BYTES) {
            byte kind = in.get();
            long position = in.getLong();
            int index = in.getInt();
            int length = in.getInt();
            if (length < 0 || length > in.remaining()) {
                return;
            }
            JournalSegment.Place place = new JournalSegment.Place(segment, in.position(), length, kind != ENDED_BARE);
            visitor.entry(place, kind == SENDING ? SENDING : ENDED, position, key(index), ByteBuffer.allocate(0));
            in.position(in.position() + length);
        }
    }
}
