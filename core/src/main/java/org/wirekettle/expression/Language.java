package org.wirekettle.expression;

/** What a text to be evaluated is written in. */
public enum Language {
    /** An expression (XPath 3.1). */
    XPATH,
    /** A query (XQuery 3.1); flow's names it uses are declared for it unless it has a prolog of its own. */
    XQUERY,
    /** A stylesheet (XSLT 3.0) that is applied to the record; its parameters of a flow's names are given. */
    XSLT
}
