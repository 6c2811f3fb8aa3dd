package org.wirekettle.demo;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.List;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;

/** The workbook of cases, made of a readable file: dates are dates in it, and numbers are numbers. */
public final class CasesWorkbook {
    private static final int HEAD_ROW = 2;

    private CasesWorkbook() {}

    /** @param csv with a header; semicolons between values */
    public static byte[] of(Path csv) throws IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Workbook book = new Workbook(out, "WireKettleDemo", "1.0")) {
            Worksheet about = book.newWorksheet("About");
            about.value(0, 0, "Cases agreed with the tide desk; they stand on the next sheet.");
            Worksheet sheet = book.newWorksheet("Cases");
            sheet.value(0, 0, "Cases of April 2031");
            List<String> lines = Files.readAllLines(csv);
            for (int row = 0; row < lines.size(); row++) {
                String[] cells = lines.get(row).split(";", -1);
                for (int c = 0; c < cells.length; c++) {
                    cell(sheet, row + HEAD_ROW, c, cells[c]);
                }
            }
        }
        return out.toByteArray();
    }

    private static void cell(Worksheet sheet, int row, int column, String text) {
        if (text.isEmpty()) {
            return;
        }
        if (text.equals("true") || text.equals("false")) {
            sheet.value(row, column, Boolean.valueOf(text));
        } else if (text.matches("\\d{4}-\\d\\d-\\d\\dT.*")) {
            sheet.value(row, column, LocalDateTime.parse(text));
            sheet.style(row, column).format("dd.mm.yyyy hh:mm").set();
        } else if (text.matches("\\d+(\\.\\d+)?")) {
            sheet.value(row, column, Double.parseDouble(text));
        } else {
            sheet.value(row, column, text);
        }
    }
}
