package org.wirekettle.shape;

import java.util.Locale;
import org.apache.xerces.impl.dv.ValidationContext;

/** Lets one value be checked on its own: no document around it, so IDs and prefixes are not followed up. */
final class StatelessValidation implements ValidationContext {
    static final StatelessValidation INSTANCE = new StatelessValidation();

    private StatelessValidation() {}

    @Override
    public boolean needFacetChecking() {
        return true;
    }

    @Override
    public boolean needExtraChecking() {
        return false;
    }

    @Override
    public boolean needToNormalize() {
        return true;
    }

    @Override
    public boolean useNamespaces() {
        return true;
    }

    @Override
    public boolean isEntityDeclared(String name) {
        return true;
    }

    @Override
    public boolean isEntityUnparsed(String name) {
        return true;
    }

    @Override
    public boolean isIdDeclared(String name) {
        return false;
    }

    @Override
    public void addId(String name) {
        // one value only: nothing to remember
    }

    @Override
    public void addIdRef(String name) {
        // one value only: nothing to remember
    }

    @Override
    public String getSymbol(String symbol) {
        return symbol.intern();
    }

    /** A prefix in a QName value is bound where the message is written, not here. */
    @Override
    public String getURI(String prefix) {
        return "urn:any";
    }

    @Override
    public Locale getLocale() {
        return Locale.ROOT;
    }
}
