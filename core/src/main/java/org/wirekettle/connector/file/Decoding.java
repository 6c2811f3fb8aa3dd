package org.wirekettle.connector.file;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.file.Files;
import java.nio.file.Path;

/** Bytes of a text file as characters, so that bytes which are none in its encoding are found, and stop nothing. */
final class Decoding {
    /** Stands for what could not be decoded: no text has it (Unicode §23.7, noncharacters). */
    private static final char MARK = '\uFFFE';

    private static final int BUFFER_BYTES = 1 << 16;

    private Decoding() {}

    static Reader reader(Path file, String encoding) throws IOException {
        return new InputStreamReader(
                new BufferedInputStream(Files.newInputStream(file), BUFFER_BYTES),
                Charset.forName(encoding)
                        .newDecoder()
                        .onMalformedInput(CodingErrorAction.REPLACE)
                        .onUnmappableCharacter(CodingErrorAction.REPLACE)
                        .replaceWith(String.valueOf(MARK)));
    }

    /** Whether some of it could not be decoded. */
    static boolean isBroken(String text) {
        return text.indexOf(MARK) >= 0;
    }

    /** The same, fit to be shown and kept. */
    static String shown(String text) {
        return isBroken(text) ? text.replace(MARK, '\uFFFD') : text;
    }

    /** Without the mark that begins some files in UTF-8. */
    static String withoutByteOrderMark(String firstText) {
        return firstText.startsWith("\uFEFF") ? firstText.substring(1) : firstText;
    }
}
