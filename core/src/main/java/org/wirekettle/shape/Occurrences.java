package org.wirekettle.shape;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.xerces.xs.XSComplexTypeDefinition;
import org.apache.xerces.xs.XSConstants;
import org.apache.xerces.xs.XSElementDeclaration;
import org.apache.xerces.xs.XSModel;
import org.apache.xerces.xs.XSModelGroup;
import org.apache.xerces.xs.XSNamedMap;
import org.apache.xerces.xs.XSObjectList;
import org.apache.xerces.xs.XSParticle;
import org.apache.xerces.xs.XSTypeDefinition;

/**
 * Xerces validates with an automaton that has a state for every occurrence a group may have: a schema that allows a
 * group twenty thousand times would take all memory. Such schemas are validated with a copy whose large numbers are
 * "unbounded"; shapes, fills and checks of single rows keep the true ones.
 */
final class Occurrences {
    /** States of one type's automaton. */
    private static final long MAX_STATES = 20_000;

    private static final int MAX_KEPT = 20;
    private static final int MAX_DEPTH = 60;
    private static final Pattern OCCURS = Pattern.compile("\\b(min|max)Occurs\\s*=\\s*([\"'])\\s*(\\d+)\\s*\\2");

    private Occurrences() {}

    /** Whether validating against some type would take too much. */
    static boolean areTooMany(XSModel model) {
        XSNamedMap types = model.getComponents(XSConstants.TYPE_DEFINITION);
        for (int i = 0; i < types.getLength(); i++) {
            if (tooMany((XSTypeDefinition) types.item(i), 0)) {
                return true;
            }
        }
        XSNamedMap elements = model.getComponents(XSConstants.ELEMENT_DECLARATION);
        for (int i = 0; i < elements.getLength(); i++) {
            XSTypeDefinition type = ((XSElementDeclaration) elements.item(i)).getTypeDefinition();
            if (type.getAnonymous() && tooMany(type, 0)) {
                return true;
            }
        }
        return false;
    }

    private static boolean tooMany(XSTypeDefinition type, int depth) {
        return type instanceof XSComplexTypeDefinition c
                && c.getParticle() != null
                && (states(c.getParticle(), false) > MAX_STATES || inside(c.getParticle(), depth));
    }

    /** Anonymous types have no entry of their own: they are reached through the elements they stand in. */
    private static boolean inside(XSParticle p, int depth) {
        if (depth > MAX_DEPTH) {
            return true;
        }
        if (p.getTerm() instanceof XSElementDeclaration d) {
            return d.getTypeDefinition().getAnonymous()
                    && d.getScope() != XSConstants.SCOPE_GLOBAL
                    && tooMany(d.getTypeDefinition(), depth + 1);
        }
        if (p.getTerm() instanceof XSModelGroup g) {
            XSObjectList all = g.getParticles();
            for (int i = 0; i < all.getLength(); i++) {
                if (inside((XSParticle) all.item(i), depth + 1)) {
                    return true;
                }
            }
        }
        return false;
    }

    /**
     * @param isRepeated whether a group around it occurs more than once; single elements elsewhere are counted, not
     *     unrolled
     */
    private static long states(XSParticle p, boolean isRepeated) {
        long times = Math.max(1, p.getMaxOccursUnbounded() ? p.getMinOccurs() : p.getMaxOccurs());
        if (!(p.getTerm() instanceof XSModelGroup g)) {
            return isRepeated ? times : 1;
        }
        boolean repeats = isRepeated || p.getMinOccurs() != 1 || p.getMaxOccursUnbounded() || p.getMaxOccurs() != 1;
        long sum = 0;
        XSObjectList all = g.getParticles();
        for (int i = 0; i < all.getLength() && sum <= MAX_STATES; i++) {
            sum += states((XSParticle) all.item(i), repeats);
        }
        return sum > MAX_STATES || times > MAX_STATES ? MAX_STATES + 1 : sum * times;
    }

    /** A schema's text with large numbers of occurrences taken as "unbounded". */
    static String capped(String schema) {
        Matcher m = OCCURS.matcher(schema);
        StringBuilder out = new StringBuilder(schema.length());
        while (m.find()) {
            boolean large = m.group(3).length() > 8 || Integer.parseInt(m.group(3)) > MAX_KEPT;
            m.appendReplacement(
                    out,
                    Matcher.quoteReplacement(
                            !large
                                    ? m.group()
                                    : m.group(1) + "Occurs=\""
                                            + (m.group(1).equals("min") ? String.valueOf(MAX_KEPT) : "unbounded")
                                            + "\""));
        }
        return m.appendTail(out).toString();
    }
}
