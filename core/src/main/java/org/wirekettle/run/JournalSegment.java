package org.wirekettle.run;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.MappedByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.zip.CRC32;
import org.wirekettle.record.PrivateFiles;

/**
 * One file of a journal: a head, then entries, each with its length and a check sum that also covers the segment's
 * number, so that what an earlier use of the file left is not taken for its own. Its bytes are allocated before it is
 * used: a full disk is noticed before a call is sent. Used under the journal's lock.
 */
final class JournalSegment {
    static final int BYTES = 8 * 1024 * 1024;
    private static final int MAGIC = 0x574B4A32;
    private static final int HEAD_BYTES = 8;
    /** Length and check sum. */
    private static final int ENTRY_HEAD_BYTES = 8;
    /** Kind, position and the key's length. */
    private static final int FIXED_BYTES = 1 + 8 + 2;

    private static final int ZEROS = 1 << 16;

    private Path file;
    private int number;
    /** Null for one that is only read. */
    private final MappedByteBuffer out;

    private long highest = -1;

    private JournalSegment(Path file, int number, MappedByteBuffer out) {
        this.file = file;
        this.number = number;
        this.out = out;
    }

    /** Where the end of a call is kept. @param hasHeaders whether HTTP headers are in it */
    record Place(JournalSegment segment, long offset, int length, boolean hasHeaders) {
        byte[] bytes() {
            try (FileChannel in = FileChannel.open(segment.file, StandardOpenOption.READ)) {
                ByteBuffer bytes = ByteBuffer.allocate(length);
                while (bytes.hasRemaining() && in.read(bytes, offset + bytes.position()) >= 0) {
                    // until it is whole
                }
                return bytes.array();
            } catch (IOException e) {
                throw new UncheckedIOException("the run's journal cannot be read", e);
            }
        }
    }

    /** Told of each entry. @param head what stands before the answer */
    interface Visitor {
        void entry(Place answer, byte kind, long position, String key, ByteBuffer rest);
    }

    /** A new file, its bytes allocated. @param atLeast of one entry */
    static JournalSegment make(Path file, int number, int atLeast) throws IOException {
        long size = Math.max(BYTES, atLeast + HEAD_BYTES);
        try (FileChannel channel = PrivateFiles.channel(
                file,
                StandardOpenOption.CREATE,
                StandardOpenOption.READ,
                StandardOpenOption.WRITE,
                StandardOpenOption.TRUNCATE_EXISTING)) {
            ByteBuffer zeros = ByteBuffer.allocate(ZEROS);
            for (long at = 0; at < size; ) {
                zeros.clear().limit((int) Math.min(ZEROS, size - at));
                at += channel.write(zeros, at);
            }
            JournalSegment out = new JournalSegment(file, number, channel.map(FileChannel.MapMode.READ_WRITE, 0, size));
            out.begin();
            return out;
        }
    }

    /** The same file under another name, for other entries. */
    JournalSegment again(Path other, int otherNumber) throws IOException {
        Files.move(file, other, StandardCopyOption.ATOMIC_MOVE);
        file = other;
        number = otherNumber;
        highest = -1;
        begin();
        return this;
    }

    private void begin() {
        out.clear();
        out.putInt(MAGIC).putInt(number);
        out.putInt(out.position(), 0);
    }

    static int size(byte[] key, byte[] payload) {
        return ENTRY_HEAD_BYTES + FIXED_BYTES + key.length + payload.length + Integer.BYTES;
    }

    /** @return false when there is no room for it */
    boolean append(byte kind, long position, byte[] key, byte[] payload) {
        int length = FIXED_BYTES + key.length + payload.length;
        if (out.remaining() < length + ENTRY_HEAD_BYTES + Integer.BYTES) {
            return false;
        }
        int at = out.position();
        // The length of what follows is cleared first: an entry counts once its check sum is there.
        out.putInt(at + ENTRY_HEAD_BYTES + length, 0);
        out.position(at + ENTRY_HEAD_BYTES);
        out.put(kind).putLong(position).putShort((short) key.length).put(key).put(payload);
        CRC32 sum = sum(number);
        sum.update(kind);
        sum.update(ByteBuffer.allocate(Long.BYTES).putLong(0, position));
        sum.update(key);
        sum.update(payload);
        out.putInt(at + Integer.BYTES, (int) sum.getValue());
        out.putInt(at, length);
        highest = Math.max(highest, position);
        return true;
    }

    private static CRC32 sum(int number) {
        CRC32 sum = new CRC32();
        sum.update(ByteBuffer.allocate(Integer.BYTES).putInt(0, number));
        return sum;
    }

    /** A file of an earlier process, to be read. */
    static JournalSegment read(Path file) throws IOException {
        try (FileChannel in = FileChannel.open(file, StandardOpenOption.READ)) {
            ByteBuffer head = ByteBuffer.allocate(HEAD_BYTES);
            in.read(head, 0);
            head.flip();
            boolean isOurs = head.remaining() == HEAD_BYTES && head.getInt() == MAGIC;
            return new JournalSegment(file, isOurs ? head.getInt() : 0, null);
        }
    }

    /** Tells of the entries that are whole, in order. */
    void entries(Visitor visitor) throws IOException {
        if (number == 0) {
            OldJournal.entries(this, file, visitor);
            return;
        }
        try (FileChannel in = FileChannel.open(file, StandardOpenOption.READ)) {
            if (in.size() <= HEAD_BYTES) {
                return;
            }
            ByteBuffer all = in.map(FileChannel.MapMode.READ_ONLY, 0, in.size());
            all.position(HEAD_BYTES);
            while (all.remaining() >= ENTRY_HEAD_BYTES) {
                int length = all.getInt();
                int wanted = all.getInt();
                if (length < FIXED_BYTES || length > all.remaining() || !entry(all, length, wanted, visitor)) {
                    return;
                }
            }
        }
    }

    private boolean entry(ByteBuffer all, int length, int wanted, Visitor visitor) {
        int start = all.position();
        byte kind = all.get();
        long position = all.getLong();
        int keyLength = all.getShort();
        if (keyLength < 0 || keyLength > length - FIXED_BYTES) {
            return false;
        }
        byte[] key = new byte[keyLength];
        all.get(key);
        int payload = length - FIXED_BYTES - keyLength;
        ByteBuffer rest = all.slice(all.position(), payload);
        CRC32 sum = sum(number);
        sum.update(kind);
        sum.update(ByteBuffer.allocate(Long.BYTES).putLong(0, position));
        sum.update(key);
        sum.update(rest.duplicate());
        if ((int) sum.getValue() != wanted) {
            return false;
        }
        Place place = new Place(this, all.position(), payload, true);
        visitor.entry(place, kind, position, new String(key, StandardCharsets.UTF_8), rest);
        all.position(start + length);
        return true;
    }

    void reaches(long position) {
        highest = Math.max(highest, position);
    }

    long highest() {
        return highest;
    }

    boolean isWritable() {
        return out != null && out.capacity() == BYTES;
    }

    void delete() throws IOException {
        Files.deleteIfExists(file);
    }
}
