package org.wirekettle.attachment;

import java.io.ByteArrayOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;

/** What is sent, in pieces that are read while they are sent; as often as it is asked for. Immutable. */
public final class Content {
    private static final int BUFFER_BYTES = 48 * 1024;

    private interface Piece {
        long length();

        void write(OutputStream out) throws IOException;
    }

    private final List<Piece> pieces = new ArrayList<>();

    Content bytes(byte[] bytes) {
        pieces.add(new Piece() {
            @Override
            public long length() {
                return bytes.length;
            }

            @Override
            public void write(OutputStream out) throws IOException {
                out.write(bytes);
            }
        });
        return this;
    }

    /** A file as it is. */
    Content file(AttachedFiles.Found file) {
        pieces.add(new Piece() {
            @Override
            public long length() {
                return file.bytes();
            }

            @Override
            public void write(OutputStream out) throws IOException {
                copy(file, out);
            }
        });
        return this;
    }

    /** A file in Base64 (RFC 4648 §4), in one line. */
    Content base64(AttachedFiles.Found file) {
        pieces.add(new Piece() {
            @Override
            public long length() {
                return (file.bytes() + 2) / 3 * 4;
            }

            @Override
            public void write(OutputStream out) throws IOException {
                OutputStream encoding = Base64.getEncoder().wrap(new Unclosed(out));
                copy(file, encoding);
                encoding.close();
            }
        });
        return this;
    }

    /** As many bytes as the file had when its length was told: no more, and no fewer. */
    private static void copy(AttachedFiles.Found file, OutputStream out) throws IOException {
        byte[] buffer = new byte[BUFFER_BYTES];
        long left = file.bytes();
        try (InputStream in = Files.newInputStream(file.path())) {
            while (left > 0) {
                int n = in.read(buffer, 0, (int) Math.min(buffer.length, left));
                if (n < 0) {
                    throw new EOFException(
                            "the file " + file.path().getFileName() + " became shorter while it was sent");
                }
                out.write(buffer, 0, n);
                left -= n;
            }
        }
    }

    /** Ending the encoding does not end what it is written to. */
    private static final class Unclosed extends java.io.FilterOutputStream {
        Unclosed(OutputStream out) {
            super(out);
        }

        @Override
        public void write(byte[] b, int from, int length) throws IOException {
            out.write(b, from, length);
        }

        @Override
        public void close() throws IOException {
            out.flush();
        }
    }

    /** In bytes. */
    public long length() {
        return pieces.stream().mapToLong(Piece::length).sum();
    }

    public void writeTo(OutputStream out) throws IOException {
        for (Piece p : pieces) {
            p.write(out);
        }
    }

    /** All of it in memory. */
    byte[] whole() throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream((int) length());
        writeTo(out);
        return out.toByteArray();
    }
}
