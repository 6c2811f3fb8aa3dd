package org.wirekettle.problem;

/** How much a {@link Problem} matters, mildest first. */
public enum Severity {
    /** Worth knowing; nothing was assumed. */
    INFO,
    /** Something was assumed or repaired; the result is usable. */
    WARNING,
    /** The thing named cannot be used; the rest can. */
    ERROR
}
