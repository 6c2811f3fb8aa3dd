package org.wirekettle.contract;

import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;

/** How much one description may be in all, whatever it is written in. Used once. */
public final class Budget {
    /** Files of one contract; more are an import loop in disguise. */
    private static final int MAX_DOCUMENTS = 600;
    /** Bytes of all files of one contract together. */
    private static final long MAX_TOTAL_BYTES = 96L * 1024 * 1024;

    private int documents;
    private long bytes;

    /** @throws Refused when it is more than may be */
    public void take(String uri, byte[] document) {
        bytes += document.length;
        if (bytes > MAX_TOTAL_BYTES || ++documents > MAX_DOCUMENTS) {
            throw new Refused(
                    "wsdl.size",
                    Place.of(uri),
                    "The description has too many files or bytes; the limits are " + MAX_DOCUMENTS + " files and "
                            + MAX_TOTAL_BYTES / 1024 / 1024 + " MB.");
        }
    }
}
