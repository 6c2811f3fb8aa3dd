package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellAddress;
import org.dhatim.fastexcel.reader.CellType;
import org.dhatim.fastexcel.reader.ExcelReaderException;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Row;
import org.dhatim.fastexcel.reader.Sheet;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.SheetFormat.Area;
import org.wirekettle.record.Node;

/** The rows of a workbook's sheet as records; dates and numbers as such, formulas as what they gave. Immutable. */
public final class SheetSource implements RecordSource {
    private final Path file;
    private final SheetFormat format;

    public SheetSource(Path file, SheetFormat format) {
        this.file = file;
        this.format = format;
    }

    @Override
    public boolean isRepeatable() {
        return true;
    }

    @Override
    public RecordSource.Stream open() throws IOException {
        return new Rows();
    }

    private final class Rows implements RecordSource.Stream {
        private final Area area = format.area();
        private final ReadableWorkbook book = Workbooks.open(file);
        private final SheetCell cells = new SheetCell(Workbooks.is1904(file));
        private final java.util.stream.Stream<Row> stream;
        private final Iterator<Row> rows;
        /** Null until a row was seen. */
        private ColumnNames columns;
        /** The sheet's column of the first of ours. */
        private int first;

        private Row pending;
        private boolean isOver;

        Rows() throws IOException {
            java.util.stream.Stream<Row> opened = null;
            try {
                Sheet sheet = sheet();
                opened = sheet.openStream();
                stream = opened;
                rows = stream.iterator();
                begin();
            } catch (ExcelReaderException | UncheckedIOException e) {
                close(opened);
                throw unreadable(e);
            } catch (IOException | RuntimeException e) {
                close(opened);
                throw e;
            }
        }

        private void close(java.util.stream.Stream<Row> opened) throws IOException {
            if (opened != null) {
                opened.close();
            }
            book.close();
        }

        private Sheet sheet() throws IOException {
            if (format.sheet() == null || format.sheet().isBlank()) {
                return book.getFirstSheet();
            }
            return book.findSheet(format.sheet())
                    .orElseThrow(() -> new IOException("there is no sheet " + format.sheet() + " in it; it has "
                            + String.join(
                                    ", ", book.getSheets().map(Sheet::getName).toList())));
        }

        private void begin() throws IOException {
            Row row = nextRow();
            if (row == null) {
                return;
            }
            if (!format.header()) {
                // Other rows may reach further: as many columns as the range has, or this row.
                first = area.firstColumn();
                int last = area.lastColumn() == Integer.MAX_VALUE ? lastColumn(row) : area.lastColumn();
                columns = ColumnNames.numbered(Math.min(last - first + 1, ColumnNames.MAX));
                pending = row;
                return;
            }
            first = firstColumn(row);
            List<String> header = new ArrayList<>();
            for (int c = first; c <= lastColumn(row); c++) {
                Cell cell = cell(row, c);
                header.add(cell == null ? null : cells.text(cell));
            }
            columns = ColumnNames.of(header);
        }

        private int firstColumn(Row row) {
            for (Cell c : row) {
                if (isInside(c) && !cells.text(c).isBlank()) {
                    return c.getColumnIndex();
                }
            }
            return area.firstColumn();
        }

        private int lastColumn(Row row) {
            int last = area.firstColumn();
            for (Cell c : row) {
                if (isInside(c) && !cells.text(c).isBlank()) {
                    last = Math.max(last, c.getColumnIndex());
                }
            }
            return last;
        }

        private boolean isInside(Cell c) {
            return c != null && c.getColumnIndex() >= area.firstColumn() && c.getColumnIndex() <= area.lastColumn();
        }

        private static Cell cell(Row row, int column) {
            return column < row.getCellCount() ? row.getCell(column) : null;
        }

        @Override
        public List<Field> columns() {
            return columns == null ? List.of() : columns.fields();
        }

        /** The next row of the area that is not blank. */
        private Row nextRow() {
            if (pending != null) {
                Row r = pending;
                pending = null;
                return r;
            }
            while (rows.hasNext()) {
                Row r = rows.next();
                int number = r.getRowNum() - 1;
                if (number > area.lastRow()) {
                    return null;
                }
                if (number >= area.firstRow() && isFilled(r)) {
                    return r;
                }
            }
            return null;
        }

        private boolean isFilled(Row r) {
            for (Cell c : r) {
                if (isInside(c)
                        && (c.getType() == CellType.FORMULA || !cells.text(c).isBlank())) {
                    return true;
                }
            }
            return false;
        }

        @Override
        public Node next() throws IOException {
            if (isOver) {
                return null;
            }
            try {
                Row row = nextRow();
                isOver = row == null;
                return isOver ? null : record(row);
            } catch (ExcelReaderException | UncheckedIOException e) {
                isOver = true;
                return BadRecord.ofText("", unreadable(e).getMessage() + ". What follows was not read.");
            }
        }

        private Node record(Row row) {
            Node out = new Node("", "record");
            String bad = null;
            for (int i = 0; i < columns.size(); i++) {
                Cell cell = cell(row, first + i);
                out.add(Node.leaf(columns.name(i), cell == null ? "" : cells.text(cell)));
                bad = cell == null || bad != null ? bad : SheetCell.problem(cell);
            }
            int end = first + columns.size();
            for (Cell c : row) {
                if (bad == null
                        && isInside(c)
                        && c.getColumnIndex() >= end
                        && !cells.text(c).isBlank()) {
                    bad = "cell " + new CellAddress(row.getRowNum() - 1, c.getColumnIndex())
                            + " stands beyond the last column: “" + cells.text(c) + "”";
                }
            }
            return bad == null ? out : BadRecord.mark(out, bad);
        }

        private static IOException unreadable(RuntimeException e) {
            String why = e.getCause() == null ? e.getMessage() : e.getCause().getMessage();
            return new IOException("the workbook cannot be read: " + why, e);
        }

        @Override
        public void close() throws IOException {
            close(stream);
        }
    }
}
