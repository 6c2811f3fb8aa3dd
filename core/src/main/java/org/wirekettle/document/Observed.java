package org.wirekettle.document;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.http.TextTypes;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.XmlSchemas;
import org.wirekettle.xml.XmlElement;

/** What was seen of the elements that stand in one place of some sample documents. Used by one thread. */
final class Observed {
    private static final int MAX_NAMES = 500;
    private static final String TYPE = "{" + XmlSchemas.XSI + "}type";
    private static final String NIL = "{" + XmlSchemas.XSI + "}nil";
    private static final String XSI_ANY = "{" + XmlSchemas.XSI + "}";

    private final QualifiedName name;
    private final Map<String, List<String>> attributes = new LinkedHashMap<>();
    private final Map<QualifiedName, Inside> inside = new LinkedHashMap<>();
    /** What was seen of those that say by xsi:type what they are. */
    private final Map<QualifiedName, Observed> kinds = new LinkedHashMap<>();
    /** What was seen right behind each name. */
    private final Map<QualifiedName, Set<QualifiedName>> behind = new HashMap<>();
    /** Null until it is asked for: then all was seen. */
    private @Nullable List<Inside> inOrder;

    private final List<String> texts = new ArrayList<>();
    private int seen;
    private int nil;
    private boolean hasText;
    private boolean isInterleaved;
    private boolean hasForeignAttributes;
    /** Whether it was seen inside of itself. */
    private boolean isRecursive;

    /** A child: how often, of those that have it. */
    static final class Inside {
        final Observed of;
        int parents;
        int least = Integer.MAX_VALUE;
        int most;

        Inside(Observed of) {
            this.of = of;
        }
    }

    /** Elements that are declared by themselves, since they stand in one of another namespace. */
    record Global(Map<QualifiedName, Observed> elements) {}

    Observed(QualifiedName name) {
        this.name = name;
    }

    static QualifiedName nameOf(XmlElement e) {
        return new QualifiedName(e.namespace(), e.name());
    }

    /** @param around the elements it is in, the nearest last */
    void see(XmlElement e, Global global, List<Observed> around) {
        String type = e.attribute(TYPE);
        if (type != null) {
            int colon = type.indexOf(':');
            String namespace = e.namespaceOf(colon < 0 ? "" : type.substring(0, colon));
            QualifiedName kind = new QualifiedName(
                    namespace == null ? "" : namespace,
                    type.substring(colon + 1).strip());
            few(kinds.size());
            kinds.computeIfAbsent(kind, k -> new Observed(name)).content(e, global, around, this);
            return;
        }
        content(e, global, around, this);
    }

    private void content(XmlElement e, Global global, List<Observed> around, Observed as) {
        seen++;
        if ("true".equals(e.attribute(NIL)) || "1".equals(e.attribute(NIL))) {
            nil++;
            return;
        }
        e.attributes().forEach((key, value) -> {
            if (key.startsWith(XSI_ANY)) {
                return;
            }
            if (key.startsWith("{")) {
                hasForeignAttributes = true;
                return;
            }
            few(attributes.size());
            attributes.computeIfAbsent(key, k -> new ArrayList<>()).add(value);
        });
        String own = e.ownText();
        if (e.children().isEmpty()) {
            texts.add(e.text().strip());
        }
        hasText |= !own.isBlank();
        children(e, global, around, as);
    }

    private void children(XmlElement e, Global global, List<Observed> around, Observed as) {
        Map<QualifiedName, Integer> counts = new LinkedHashMap<>();
        QualifiedName last = null;
        List<Observed> deeper = new ArrayList<>(around);
        deeper.add(as);
        for (XmlElement c : e.children()) {
            QualifiedName child = nameOf(c);
            if (!child.equals(last) && counts.containsKey(child)) {
                isInterleaved = true;
            }
            counts.merge(child, 1, Integer::sum);
            last = child;
            few(inside.size());
            inside.computeIfAbsent(child, k -> new Inside(place(child, global, deeper)))
                    .of
                    .see(c, global, deeper);
        }
        List<QualifiedName> order = new ArrayList<>(counts.keySet());
        for (int i = 1; i < order.size(); i++) {
            behind.computeIfAbsent(order.get(i - 1), k -> new HashSet<>()).add(order.get(i));
        }
        counts.forEach((child, n) -> {
            Inside in = inside.get(child);
            in.parents++;
            in.least = Math.min(in.least, n);
            in.most = Math.max(in.most, n);
        });
    }

    /** One that it is inside of has the same place as that; one of another namespace has its own. */
    private Observed place(QualifiedName child, Global global, List<Observed> around) {
        for (Observed o : around) {
            if (o.name.equals(child)) {
                o.isRecursive = true;
                return o;
            }
        }
        boolean isForeign = !child.namespace().isEmpty() && !child.namespace().equals(name.namespace());
        return isForeign ? global.elements().computeIfAbsent(child, Observed::new) : new Observed(child);
    }

    private static void few(int names) {
        if (names > MAX_NAMES) {
            throw new Refused(
                    "sample.names",
                    null,
                    "It has more than " + MAX_NAMES + " different names in one place; so many are not told apart.");
        }
    }

    QualifiedName name() {
        return name;
    }

    int seen() {
        return seen;
    }

    boolean isNillable() {
        return nil > 0;
    }

    boolean isRecursive() {
        return isRecursive;
    }

    boolean hasForeignAttributes() {
        return hasForeignAttributes;
    }

    /** Text beside children, or instead of them. */
    boolean isMixed() {
        return hasText && !inside.isEmpty();
    }

    Map<String, List<String>> attributes() {
        return attributes;
    }

    boolean isInAll(String attribute) {
        return attributes.get(attribute).size() == seen - nil;
    }

    Map<QualifiedName, Observed> kinds() {
        return kinds;
    }

    /** The children in the order they have, which may be any: then {@link #isOrdered} is false. */
    List<Inside> children() {
        if (inOrder == null) {
            inOrder = sorted();
        }
        return inOrder;
    }

    /** Each behind all that was seen before it; where there is no such order, those that have none come last. */
    private List<Inside> sorted() {
        Map<QualifiedName, Integer> before = new HashMap<>();
        behind.values().forEach(all -> all.forEach(n -> before.merge(n, 1, Integer::sum)));
        List<Inside> out = new ArrayList<>();
        Set<QualifiedName> left = new LinkedHashSet<>(inside.keySet());
        while (!left.isEmpty()) {
            Optional<QualifiedName> next =
                    left.stream().filter(n -> before.getOrDefault(n, 0) == 0).findFirst();
            if (next.isEmpty()) {
                isInterleaved = true;
                left.forEach(n -> out.add(inside.get(n)));
                return out;
            }
            left.remove(next.get());
            out.add(inside.get(next.get()));
            behind.getOrDefault(next.get(), Set.of()).forEach(n -> before.merge(n, -1, Integer::sum));
        }
        return out;
    }

    boolean isOrdered() {
        children();
        return !isInterleaved;
    }

    int least(Inside child) {
        return child.parents == seen - nil ? child.least : 0;
    }

    /** The type of its text; null where it has none. */
    @Nullable
    String text() {
        return inside.isEmpty() && (hasText || attributes.isEmpty()) ? typeOf(texts) : null;
    }

    static String typeOf(List<String> values) {
        return "xs:" + TextTypes.ofTexts(values, true).xsd();
    }
}
