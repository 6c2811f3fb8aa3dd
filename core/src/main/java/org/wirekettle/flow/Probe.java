package org.wirekettle.flow;

import org.wirekettle.expression.Scope;

/** Looks on while a record is worked on; for designing. */
interface Probe {
    /** @return whether the record goes on into the step */
    boolean before(String path, Scope scope);

    void after(String path, Scope scope);
}
