package org.wirekettle.shape;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Place;

/**
 * One node in the tree of fields. Immutable and shareable; children and variants are made on first use. Groups without
 * a meaning of their own (a sequence that occurs once) are folded into their parent.
 */
public final class Shape {
    /** No upper limit for {@link #max()}. */
    public static final int UNBOUNDED = -1;

    private static final ShapeContent EMPTY = new ShapeContent(List.of());

    /** What a node stands for. */
    public enum Kind {
        /** An element, a column, a JSON member. */
        ELEMENT,
        ATTRIBUTE,
        /** Exactly one of the children. */
        CHOICE,
        /** A group of children that is optional or repeats as a whole. */
        GROUP,
        /** Any element (XSD wildcard); filled with free XML. */
        ANY,
        /** Any attribute (XSD wildcard); filled with attributes as XML writes them. */
        ANY_ATTRIBUTE
    }

    /**
     * What a wildcard admits (XSD part 1 §3.10).
     *
     * @param allowed the namespaces, in words
     * @param namespace one that is allowed; empty for none
     * @param isStrict only declared elements may stand there: those in {@link Shape#variants()}
     * @param admits whether a namespace is allowed; empty for none
     */
    public record Wildcard(String allowed, String namespace, boolean isStrict, Predicate<String> admits) {}

    /**
     * The items of a SOAP-encoded array (SOAP 1.1 §5.4.2).
     *
     * @param type the items' type
     * @param ranks the items' own ranks, such as {@code []}; usually empty
     */
    public record ArrayOf(QualifiedName type, String ranks) {}

    /** Which part of a message a root child belongs to. */
    public enum Role {
        BODY,
        HEADER,
        /** It goes beside the envelope. */
        ATTACHMENT
    }

    private final Kind kind;
    private final Role role;
    private final String name;
    private final String namespace;
    private final String label;
    private final int min;
    private final int max;
    private final boolean nillable;
    private final boolean isAbstract;
    private final ScalarType scalar;
    private final QualifiedName type;
    private final String fixed;
    private final String defaultValue;
    private final String documentation;
    private final String appinfo;
    private final List<String> constraints;
    private final Wildcard wildcard;
    private final ArrayOf arrayOf;
    private final Place place;
    private final boolean typed;
    private final JsonForm json;
    private final Supplier<ShapeContent> contentSource;
    private final Supplier<List<Variant>> variantSource;
    private volatile ShapeContent content;
    private volatile List<Variant> variants;

    private Shape(Builder b) {
        kind = b.kind;
        role = b.role;
        name = b.name;
        namespace = b.namespace == null ? "" : b.namespace;
        label = b.label == null ? b.name : b.label;
        min = b.min;
        max = b.max;
        nillable = b.nillable;
        isAbstract = b.isAbstract;
        scalar = b.scalar;
        type = b.type;
        fixed = b.fixed;
        defaultValue = b.defaultValue;
        documentation = b.documentation;
        appinfo = b.appinfo;
        constraints = b.constraints;
        wildcard = b.wildcard;
        arrayOf = b.arrayOf;
        place = b.place;
        typed = b.typed;
        json = b.json;
        contentSource = b.content;
        variantSource = b.variants;
    }

    public Kind kind() {
        return kind;
    }

    public Role role() {
        return role;
    }

    /** Local name; for choices and groups a fixed word. */
    public String name() {
        return name;
    }

    /** Namespace name, empty when there is none. */
    public String namespace() {
        return namespace;
    }

    /** The name as its owner wrote it, before it was made an XML name. */
    public String label() {
        return label;
    }

    public int min() {
        return min;
    }

    /** {@link #UNBOUNDED} or a number. */
    public int max() {
        return max;
    }

    public boolean isRequired() {
        return min > 0;
    }

    public boolean isRepeated() {
        return max == UNBOUNDED || max > 1;
    }

    public boolean isNillable() {
        return nillable;
    }

    /** An abstract element or an element of abstract type: one of {@link #variants()} must be taken. */
    public boolean isAbstract() {
        return isAbstract;
    }

    /** The type of its text, or null when it has only children. */
    public ScalarType scalar() {
        return scalar;
    }

    /** The declared type's name, or null when anonymous. */
    public QualifiedName type() {
        return type;
    }

    /** The only value allowed, or null. */
    public String fixed() {
        return fixed;
    }

    public String defaultValue() {
        return defaultValue;
    }

    public String documentation() {
        return documentation;
    }

    /** What its declaration says to programs (xs:appinfo), as text, or null. */
    public String appinfo() {
        return appinfo;
    }

    /** Its identity constraints in words (XSD part 1 §3.11); usually empty. */
    public List<String> constraints() {
        return constraints;
    }

    /** What may stand here, for wildcards; otherwise null. */
    public Wildcard wildcard() {
        return wildcard;
    }

    /** For a SOAP-encoded array its items' type; otherwise null. */
    public ArrayOf arrayOf() {
        return arrayOf;
    }

    /** Where it is declared, or null. */
    public Place place() {
        return place;
    }

    /** Whether messages must carry xsi:type (RPC/encoded, SOAP 1.1 §5). */
    public boolean isTyped() {
        return typed;
    }

    /** How it stands in JSON; null where it never does. */
    public @Nullable JsonForm json() {
        return json;
    }

    /** Attributes first, then content in order. */
    public List<Shape> children() {
        return content().children();
    }

    private ShapeContent content() {
        ShapeContent made = content;
        if (made == null) {
            made = contentSource.get();
            content = made;
        }
        return made;
    }

    /** Concrete types or members that may stand here instead. */
    public List<Variant> variants() {
        List<Variant> made = variants;
        if (made == null) {
            made = variantSource.get();
            variants = made;
        }
        return made;
    }

    /** This shape taking the variant with that name, written {@code {namespace}local}. */
    public Optional<Variant> variant(String qualifiedName) {
        return variants().stream()
                .filter(v -> v.name().toString().equals(qualifiedName))
                .findFirst();
    }

    /** The children by path segment, in order. A name that occurs twice among siblings gets {@code #2}, {@code #3}. */
    public Map<String, Shape> segments() {
        return content().segments();
    }

    /** The occurrence as people write it: {@code 1}, {@code 0..1}, {@code 0..n}. */
    public String occurs() {
        if (min == max) {
            return Integer.toString(min);
        }
        return min + ".." + (max == UNBOUNDED ? "n" : Integer.toString(max));
    }

    /** A builder with all of this shape, to change a little. */
    public Builder copy() {
        Builder b = new Builder(kind, name);
        b.role = role;
        b.namespace = namespace;
        b.label = label;
        b.min = min;
        b.max = max;
        b.nillable = nillable;
        b.isAbstract = isAbstract;
        b.scalar = scalar;
        b.type = type;
        b.fixed = fixed;
        b.defaultValue = defaultValue;
        b.documentation = documentation;
        b.appinfo = appinfo;
        b.constraints = constraints;
        b.wildcard = wildcard;
        b.arrayOf = arrayOf;
        b.place = place;
        b.typed = typed;
        b.json = json;
        b.content = this::content;
        b.variants = this::variants;
        return b;
    }

    public static Builder element(String name) {
        return new Builder(Kind.ELEMENT, name);
    }

    public static Builder of(Kind kind, String name) {
        return new Builder(kind, name);
    }

    /** A flat or nested record shape from given fields. */
    public static Shape record(String name, List<Shape> fields) {
        List<Shape> copy = new ArrayList<>(fields);
        return element(name).children(() -> copy).build();
    }

    /**
     * A concrete type or substitute: its name and what this element then looks like.
     *
     * @param text its documentation, read when it is asked for
     */
    public record Variant(QualifiedName name, boolean isSubstitute, Supplier<String> text, Supplier<Shape> shape) {
        public String documentation() {
            return text.get();
        }
    }

    /** Collects what a {@link Shape} is made of. */
    public static final class Builder {
        private final Kind kind;
        private final String name;
        private Role role = Role.BODY;
        private String namespace;
        private String label;
        private int min = 1;
        private int max = 1;
        private boolean nillable;
        private boolean isAbstract;
        private ScalarType scalar;
        private QualifiedName type;
        private String fixed;
        private String defaultValue;
        private String documentation;
        private String appinfo;
        private List<String> constraints = List.of();
        private Wildcard wildcard;
        private ArrayOf arrayOf;
        private Place place;
        private boolean typed;
        private @Nullable JsonForm json;
        private Supplier<ShapeContent> content = () -> EMPTY;
        private Supplier<List<Variant>> variants = List::of;

        private Builder(Kind kind, String name) {
            this.kind = kind;
            this.name = name;
        }

        public Builder role(Role value) {
            role = value;
            return this;
        }

        public Builder namespace(String value) {
            namespace = value;
            return this;
        }

        public Builder label(String value) {
            label = value;
            return this;
        }

        public Builder occurs(int least, int most) {
            min = least;
            max = most;
            return this;
        }

        public Builder nillable(boolean value) {
            nillable = value;
            return this;
        }

        public Builder isAbstract(boolean value) {
            isAbstract = value;
            return this;
        }

        public Builder scalar(ScalarType value) {
            scalar = value;
            return this;
        }

        public Builder type(QualifiedName value) {
            type = value;
            return this;
        }

        public Builder fixed(String value) {
            fixed = value;
            return this;
        }

        public Builder defaultValue(String value) {
            defaultValue = value;
            return this;
        }

        public Builder documentation(String value) {
            documentation = value;
            return this;
        }

        public Builder appinfo(String value) {
            appinfo = value;
            return this;
        }

        public Builder constraints(List<String> value) {
            constraints = value;
            return this;
        }

        public Builder wildcard(Wildcard value) {
            wildcard = value;
            return this;
        }

        public Builder arrayOf(ArrayOf value) {
            arrayOf = value;
            return this;
        }

        public Builder place(Place value) {
            place = value;
            return this;
        }

        public Builder typed(boolean value) {
            typed = value;
            return this;
        }

        public Builder json(@Nullable JsonForm value) {
            json = value;
            return this;
        }

        public Builder children(Supplier<List<Shape>> value) {
            content = () -> new ShapeContent(value.get());
            return this;
        }

        /** What it shares with all others of its type. */
        Builder content(Supplier<ShapeContent> value) {
            content = value;
            return this;
        }

        /** @param value an unmodifiable list; may make its elements on demand, since a base type can have thousands */
        public Builder variants(Supplier<List<Variant>> value) {
            variants = value;
            return this;
        }

        public Shape build() {
            return new Shape(this);
        }
    }
}
