package org.wirekettle.connector.file;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeBytes;
import org.wirekettle.record.PrivateFiles;

/**
 * Rows of a workbook's sheet. A workbook cannot be added to piece by piece: the file under way has the rows in a form
 * of their own, and the workbook is made of it when the run is finished.
 */
public final class SheetRows implements RowFormat {
    /** Characters of a cell (ECMA-376 part 1 §18.3.1.96 leaves it open; programs that show workbooks do not). */
    private static final int MAX_CELL_CHARS = 32_767;
    /** Rows of a sheet; more go to a further one. */
    private static final int MAX_ROWS = 1_048_576;

    private static final int FLUSHED_ROWS = 1_000;

    private final String sheet;
    private final List<Field> columns;

    /** @param sheet its name. @param columns with labels for the header and types for the cells */
    public SheetRows(String sheet, List<Field> columns) {
        this.sheet = sheet;
        this.columns = List.copyOf(columns);
    }

    @Override
    public byte[] head() {
        return new byte[0];
    }

    @Override
    public boolean isWrittenAside() {
        return true;
    }

    @Override
    public byte[] rows(List<Node> rows, boolean isFirst) {
        List<byte[]> all = rows.stream().map(NodeBytes::write).toList();
        ByteBuffer out = ByteBuffer.allocate(
                all.stream().mapToInt(b -> b.length + Integer.BYTES).sum());
        all.forEach(b -> out.putInt(b.length).put(b));
        return out.array();
    }

    @Override
    public Optional<String> refusal(Node row) {
        Optional<String> nested = FlatRows.refusal(
                row,
                columns.stream().map(Field::name).toList(),
                columns.stream().map(Field::label).toList());
        if (nested.isPresent()) {
            return nested;
        }
        for (Field c : columns) {
            Node value = row.child(c.name());
            if (value != null && value.string().length() > MAX_CELL_CHARS) {
                return Optional.of(c.label() + " is longer than the " + MAX_CELL_CHARS + " characters a cell may have");
            }
        }
        return Optional.empty();
    }

    @Override
    public Optional<String> problem(Path file) throws IOException {
        if (Files.notExists(file) || Files.size(file) == 0) {
            return Optional.empty();
        }
        List<String> ours = columns.stream().map(Field::label).toList();
        List<String> there;
        try (RecordSource.Stream in = new SheetSource(file, new SheetFormat(sheet, null, true)).open()) {
            there = in.columns().stream().map(Field::label).toList();
        }
        return there.isEmpty() || there.equals(ours)
                ? Optional.empty()
                : Optional.of("The sheet " + sheet + " of " + file.getFileName() + " has the columns "
                        + String.join(", ", there) + "; this flow writes " + String.join(", ", ours) + ".");
    }

    /** The rows that are there come first. */
    @Override
    public void reopen(Path there, Path underWay) throws IOException {
        try (RecordSource.Stream in = new SheetSource(there, new SheetFormat(sheet, null, true)).open();
                DataOutputStream out = new DataOutputStream(
                        new BufferedOutputStream(Files.newOutputStream(underWay, StandardOpenOption.WRITE)))) {
            for (Node r; (r = in.next()) != null; ) {
                byte[] row = NodeBytes.write(r);
                out.writeInt(row.length);
                out.write(row);
            }
        }
    }

    @Override
    public void complete(Path underWay, Path file) throws IOException {
        Path made = underWay.resolveSibling(underWay.getFileName() + ".xlsx");
        Files.deleteIfExists(made);
        try (OutputStream out = new BufferedOutputStream(PrivateFiles.write(made));
                DataInputStream rows = new DataInputStream(new BufferedInputStream(Files.newInputStream(underWay)))) {
            write(rows, out);
        }
        Files.move(made, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        Files.deleteIfExists(underWay);
    }

    private void write(DataInputStream rows, OutputStream out) throws IOException {
        try (Workbook book = new Workbook(out, "WireKettle", "1.0")) {
            int sheets = 1;
            int at = MAX_ROWS;
            Worksheet on = null;
            for (Node r = read(rows); r != null || on == null; r = read(rows)) {
                if (at >= MAX_ROWS) {
                    if (on != null) {
                        on.finish();
                    }
                    on = book.newWorksheet(sheets == 1 ? sheet : sheet + " " + sheets);
                    sheets++;
                    for (int c = 0; c < columns.size(); c++) {
                        on.value(0, c, columns.get(c).label());
                    }
                    on.freezePane(0, 1);
                    at = 1;
                }
                if (r == null) {
                    break;
                }
                for (int c = 0; c < columns.size(); c++) {
                    Node value = r.child(columns.get(c).name());
                    String text = value == null || value.isNil() ? "" : value.string();
                    SheetCells.write(on, at, c, text, columns.get(c).type());
                }
                at++;
                if (at % FLUSHED_ROWS == 0) {
                    on.flush();
                }
            }
        }
    }

    private static Node read(DataInputStream in) throws IOException {
        try {
            return NodeBytes.read(in.readNBytes(in.readInt()));
        } catch (EOFException e) {
            return null;
        }
    }

    /** The columns of a sheet that is there; none when there is none. */
    public static List<String> header(Path file, String sheet) throws IOException {
        if (Files.notExists(file)) {
            return List.of();
        }
        try (RecordSource.Stream in = new SheetSource(file, new SheetFormat(sheet, null, true)).open()) {
            return new ArrayList<>(in.columns().stream().map(Field::label).toList());
        }
    }
}
