package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** What a file of records may be, told by its first bytes. */
public enum FileKind {
    CSV("csv", "a delimited file"),
    FIXED("fixed", "a file of fixed width"),
    JSON("json", "JSON"),
    JSON_LINES("jsonl", "JSON lines"),
    XML("xml", "XML"),
    XLSX("xlsx", "a workbook");

    private static final int MAX_LINES = 50;

    private final String id;
    private final String words;

    FileKind(String id, String words) {
        this.id = id;
        this.words = words;
    }

    /** As definitions have it. */
    public String id() {
        return id;
    }

    /** As people say it. */
    public String words() {
        return words;
    }

    /** @throws IOException in words, when it is of a kind that cannot be read at all */
    public static FileKind of(Path file) throws IOException {
        byte[] head;
        try (InputStream in = Files.newInputStream(file)) {
            head = in.readNBytes(CsvFormat.SAMPLED_BYTES);
        }
        if (startsWith(head, 'P', 'K', 3, 4)) {
            return XLSX;
        }
        if (startsWith(head, 0xD0, 0xCF, 0x11, 0xE0)) {
            throw new IOException("it is an old or a protected workbook: save it as XLSX, without a password");
        }
        if (startsWith(head, '%', 'P', 'D', 'F')) {
            throw new IOException("it is a PDF, which holds no records");
        }
        if (startsWith(head, 0x1F, 0x8B)) {
            throw new IOException("it is packed (gzip): unpack it first");
        }
        String text = new String(head, Charset.forName(CsvFormat.encoding(head)))
                .replaceFirst("^\\uFEFF", "")
                .strip();
        if (text.startsWith("[") && text.matches("(?s)\\[\\s*([\\[{\"\\d-].*|])")) {
            return isLines(text) ? JSON_LINES : JSON;
        }
        if (text.matches("(?s)\\{\\s*(\".*|})")) {
            return isLines(text) ? JSON_LINES : JSON;
        }
        return text.matches("(?s)<[?!\\p{L}_].*") ? XML : FixedColumns.of(text).isEmpty() ? CSV : FIXED;
    }

    private static boolean startsWith(byte[] head, int... bytes) {
        for (int i = 0; i < bytes.length; i++) {
            if (head.length <= i || (head[i] & 0xFF) != bytes[i]) {
                return false;
            }
        }
        return true;
    }

    /** Several values, each on a line. */
    private static boolean isLines(String text) {
        List<String> lines =
                text.lines().filter(l -> !l.isBlank()).limit(MAX_LINES).toList();
        if (lines.size() < 2) {
            return false;
        }
        long whole = lines.stream()
                .limit(2)
                .map(String::strip)
                .filter(FileKind::isWhole)
                .count();
        return whole > 0 && isWhole(lines.get(0).strip()) || whole == 2;
    }

    private static boolean isWhole(String line) {
        return line.startsWith("{") && line.endsWith("}") || line.startsWith("[") && line.endsWith("]");
    }
}
