package org.wirekettle.flow;

import java.io.IOException;
import java.io.UncheckedIOException;

/** Not the record is at fault: the run cannot go on, such as when what it does could not be remembered. */
public class BrokenRun extends UncheckedIOException {
    private static final long serialVersionUID = 1;

    public BrokenRun(String message, IOException cause) {
        super(message, cause);
    }
}
