package org.wirekettle.connector.file;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * How a delimited file is written.
 *
 * @param encoding a charset's name
 * @param header whether the first line has the column names
 * @param shortLines whether lines with fewer values are taken, without the last ones; otherwise they are bad records
 */
public record CsvFormat(char delimiter, char quote, String encoding, boolean header, boolean shortLines) {
    static final int SAMPLED_BYTES = 256 * 1024;
    private static final char[] DELIMITERS = {';', ',', '\t', '|'};

    public static final CsvFormat PLAIN = new CsvFormat(',', '"', "UTF-8", true);

    public CsvFormat(char delimiter, char quote, String encoding, boolean header) {
        this(delimiter, quote, encoding, header, false);
    }

    /** Recognises the format from a file's beginning. */
    public static CsvFormat recognise(Path file) throws IOException {
        byte[] head;
        try (InputStream in = Files.newInputStream(file)) {
            head = in.readNBytes(SAMPLED_BYTES);
        }
        String encoding = encoding(head);
        String text = new String(head, Charset.forName(encoding));
        String[] lines = text.split("\r\n|\n|\r", 22);
        char best = ',';
        double bestScore = -1;
        for (char d : DELIMITERS) {
            double score = score(lines, d);
            if (score > bestScore) {
                bestScore = score;
                best = d;
            }
        }
        return new CsvFormat(best, '"', encoding, looksLikeHeader(lines, best));
    }

    /** The encoding that a text's beginning is in. */
    static String encoding(byte[] head) {
        if (head.length > 1 && (head[0] & 0xFF) == 0xFE && (head[1] & 0xFF) == 0xFF
                || head.length > 1 && (head[0] & 0xFF) == 0xFF && (head[1] & 0xFF) == 0xFE) {
            return "UTF-16";
        }
        // A sample may end within a character; the last three bytes do not count.
        int length = head.length < SAMPLED_BYTES ? head.length : head.length - 3;
        try {
            StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .onUnmappableCharacter(CodingErrorAction.REPORT)
                    .decode(ByteBuffer.wrap(head, 0, Math.max(0, length)));
            return "UTF-8";
        } catch (CharacterCodingException e) {
            return head.length == SAMPLED_BYTES && isUtf8Before(head, length) ? "UTF-8" : "windows-1252";
        }
    }

    private static boolean isUtf8Before(byte[] head, int length) {
        for (int cut = 1; cut < 4; cut++) {
            try {
                StandardCharsets.UTF_8
                        .newDecoder()
                        .onMalformedInput(CodingErrorAction.REPORT)
                        .decode(ByteBuffer.wrap(head, 0, length - cut));
                return true;
            } catch (CharacterCodingException e) {
                // a shorter cut ended within a character
            }
        }
        return false;
    }

    /** Many delimiters, the same number on every line. */
    private static double score(String[] lines, char delimiter) {
        int n = 0;
        int agreeing = 0;
        int first = count(lines[0], delimiter);
        for (int i = 0; i < Math.min(lines.length, 20); i++) {
            if (!lines[i].isEmpty()) {
                n++;
                agreeing += count(lines[i], delimiter) == first ? 1 : 0;
            }
        }
        return first == 0 || n == 0 ? 0 : first * Math.pow((double) agreeing / n, 3);
    }

    private static int count(String line, char delimiter) {
        int n = 0;
        boolean quoted = false;
        for (int i = 0; i < line.length(); i++) {
            char c = line.charAt(i);
            quoted ^= c == '"';
            n += c == delimiter && !quoted ? 1 : 0;
        }
        return n;
    }

    /** A header has a name in each column, none a number, none twice. */
    private static boolean looksLikeHeader(String[] lines, char delimiter) {
        java.util.Set<String> seen = new java.util.HashSet<>();
        for (String cell : lines[0].split(java.util.regex.Pattern.quote(String.valueOf(delimiter)), -1)) {
            String c = cell.replace("\"", "").strip();
            if (c.isEmpty() || c.matches("[+-]?[\\d.,:/ -]+") || !seen.add(c)) {
                return false;
            }
        }
        return true;
    }
}
