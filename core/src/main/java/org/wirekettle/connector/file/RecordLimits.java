package org.wirekettle.connector.file;

/** How much one record may hold: it is in memory as a whole. */
final class RecordLimits {
    /** Elements, members or values of one record. */
    static final int MAX_NODES = 500_000;
    /** Rows that are put together to one record. */
    static final int MAX_ROWS = 10_000;
    /** Characters of one line. */
    static final int MAX_LINE_CHARS = 32 * 1024 * 1024;
    /** Of a text shown in a reason. */
    static final int MAX_SHOWN_CHARS = 2_000;

    private RecordLimits() {}

    static String shown(String text) {
        return text.length() <= MAX_SHOWN_CHARS ? text : text.substring(0, MAX_SHOWN_CHARS) + "…";
    }
}
