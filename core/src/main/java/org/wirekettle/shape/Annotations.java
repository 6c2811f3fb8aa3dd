package org.wirekettle.shape;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.xerces.xs.XSAnnotation;
import org.apache.xerces.xs.XSElementDeclaration;
import org.apache.xerces.xs.XSIDCDefinition;
import org.apache.xerces.xs.XSNamedMap;
import org.apache.xerces.xs.XSObjectList;

/**
 * What a schema component says beside its structure: documentation, words for programs, identity constraints (XSD part
 * 1 §3.13, §3.11).
 */
final class Annotations {
    private static final Pattern DOCUMENTATION = Pattern.compile(
            "<(?:[\\w.-]+:)?documentation[^>]*?(?<!/)>(.*?)</(?:[\\w.-]+:)?documentation>", Pattern.DOTALL);
    private static final Pattern APPINFO =
            Pattern.compile("<(?:[\\w.-]+:)?appinfo[^>]*?(?<!/)>(.*?)</(?:[\\w.-]+:)?appinfo>", Pattern.DOTALL);

    private Annotations() {}

    /** Identity constraints as people read them: {@code unique line: item by @number}. */
    static List<String> constraints(XSElementDeclaration d) {
        List<String> out = new ArrayList<>();
        XSNamedMap all = d.getIdentityConstraints();
        for (int i = 0; i < all.getLength(); i++) {
            XSIDCDefinition c = (XSIDCDefinition) all.item(i);
            String word = c.getCategory() == XSIDCDefinition.IC_KEY
                    ? "key"
                    : c.getCategory() == XSIDCDefinition.IC_UNIQUE ? "unique" : "key reference";
            List<String> fields = new ArrayList<>();
            for (int f = 0; f < c.getFieldStrs().getLength(); f++) {
                fields.add(plainPath(c.getFieldStrs().item(f)));
            }
            out.add(word + " " + c.getName() + ": " + plainPath(c.getSelectorStr()) + " by " + String.join(", ", fields)
                    + (c.getRefKey() == null ? "" : ", of " + c.getRefKey().getName()));
        }
        return out;
    }

    /** Xerces writes every path with a leading {@code ./}. */
    private static String plainPath(String path) {
        return path.replaceAll("(^|\\|)\\./", "$1");
    }

    /** The text of xs:documentation, or null. */
    static String documentation(XSObjectList annotations) {
        return text(annotations, DOCUMENTATION);
    }

    /** The text of xs:appinfo, or null. */
    static String appinfo(XSObjectList annotations) {
        return text(annotations, APPINFO);
    }

    private static String text(XSObjectList annotations, Pattern element) {
        if (annotations == null) {
            return null;
        }
        StringBuilder out = new StringBuilder();
        for (int i = 0; i < annotations.getLength(); i++) {
            Matcher m = element.matcher(((XSAnnotation) annotations.item(i)).getAnnotationString());
            while (m.find()) {
                out.append(out.length() == 0 ? "" : "\n")
                        .append(m.group(1)
                                .replaceAll("<[^>]+>", " ")
                                .replaceAll("\\s+", " ")
                                .strip()
                                .replace("&lt;", "<")
                                .replace("&gt;", ">")
                                .replace("&amp;", "&"));
            }
        }
        return out.length() == 0 ? null : out.toString();
    }
}
