package org.wirekettle.xml;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Makes XML names of labels. A character that may not stand in a name becomes {@code _xHHHH_}, as ISO/IEC 9075-14 §9.1
 * (SQL/XML) has it, so {@code Call Ref} is {@code Call_x0020_Ref} and the label can be had back.
 */
public final class FieldNames {
    private static final Pattern ESCAPED = Pattern.compile("_x([0-9A-F]{4})_");

    private FieldNames() {}

    public static String name(String label) {
        if (label == null || label.isEmpty()) {
            return "_x0000_";
        }
        StringBuilder out = null;
        for (int i = 0; i < label.length(); i++) {
            char c = label.charAt(i);
            boolean allowed = i == 0 ? isStart(c) : isPart(c);
            if (c == '_' && label.startsWith("_x", i)) {
                allowed = false;
            }
            if (!allowed && out == null) {
                out = new StringBuilder(label.substring(0, i));
            }
            if (out != null) {
                if (allowed) {
                    out.append(c);
                } else {
                    out.append(String.format("_x%04X_", (int) c));
                }
            }
        }
        return out == null ? label : out.toString();
    }

    /** The label a name was made of. */
    public static String label(String name) {
        if (!name.contains("_x")) {
            return name;
        }
        return ESCAPED.matcher(name).replaceAll(m -> {
            char c = (char) Integer.parseInt(m.group(1), 16);
            return c == 0 ? "" : Matcher.quoteReplacement(String.valueOf(c));
        });
    }

    private static boolean isStart(char c) {
        return XmlNames.isStart(c);
    }

    private static boolean isPart(char c) {
        return XmlNames.isPart(c);
    }
}
