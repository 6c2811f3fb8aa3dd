package org.wirekettle.run;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import javax.xml.stream.XMLStreamException;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.record.PrivateFiles;

/**
 * The records of a source that would not give the same ones twice, kept on disk for one run, so that it can go on where
 * it stopped.
 */
public final class Spool {
    private Spool() {}

    /** Copies all records, unless an earlier process already has. @return the records' input, from the first */
    public static RunInput of(Path file, RunInput records) throws IOException {
        if (Files.notExists(file)) {
            Path part = file.resolveSibling(file.getFileName() + ".part");
            PrivateFiles.folder(file.getParent());
            try (DataOutputStream out =
                    new DataOutputStream(new BufferedOutputStream(PrivateFiles.write(part), 1 << 16))) {
                RunInput.Numbered r;
                while ((r = records.next()) != null) {
                    byte[] xml = NodeXml.write(r.record()).getBytes(StandardCharsets.UTF_8);
                    out.writeLong(r.number());
                    out.writeInt(xml.length);
                    out.write(xml);
                }
            }
            Files.move(part, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        }
        records.close();
        return reading(file);
    }

    private static RunInput reading(Path file) throws IOException {
        DataInputStream in = new DataInputStream(new BufferedInputStream(Files.newInputStream(file), 1 << 16));
        return new RunInput() {
            @Override
            public Numbered next() throws IOException {
                long number;
                try {
                    number = in.readLong();
                } catch (EOFException e) {
                    return null;
                }
                try {
                    Node record = NodeXml.read(new String(in.readNBytes(in.readInt()), StandardCharsets.UTF_8));
                    return new Numbered(number, record);
                } catch (XMLStreamException e) {
                    throw new IOException("the run's copy of the source is damaged at record " + number, e);
                }
            }

            @Override
            public void close() throws IOException {
                in.close();
            }
        };
    }
}
