package org.wirekettle.shape;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.apache.xerces.impl.dv.InvalidDatatypeValueException;
import org.apache.xerces.impl.dv.SchemaDVFactory;
import org.apache.xerces.impl.dv.ValidatedInfo;
import org.apache.xerces.impl.dv.XSSimpleType;
import org.apache.xerces.xs.StringList;
import org.apache.xerces.xs.XSSimpleTypeDefinition;
import org.wirekettle.problem.Show;

/**
 * The type of a piece of text: an XSD simple type (XSD 1.0 part 2) with its facets. Sources without XSD use the
 * built-in ones. Shareable.
 */
public final class ScalarType {
    private static final SchemaDVFactory BUILT_INS = SchemaDVFactory.getInstance();
    private static final int MAX_LISTED_VALUES = 6;

    private final XSSimpleType type;
    private final String base;
    private final boolean anyText;
    private final QuickCheck quick;

    private ScalarType(XSSimpleType type) {
        this.type = type;
        this.base = builtInBase(type);
        this.anyText = (base.equals("string") || base.equals("anySimpleType")) && !constrains(type);
        this.quick = QuickCheck.of(this, type, BUILT_INS.getBuiltInType(base));
    }

    /** @throws IllegalArgumentException when there is no built-in type of that name */
    public static ScalarType builtIn(String name) {
        XSSimpleType found = BUILT_INS.getBuiltInType(name);
        if (found == null) {
            throw new IllegalArgumentException("no built-in type " + name);
        }
        return new ScalarType(found);
    }

    /** Whether there is a built-in type of that name. */
    public static boolean isBuiltIn(String name) {
        return BUILT_INS.getBuiltInType(name) != null;
    }

    static ScalarType of(XSSimpleTypeDefinition definition) {
        return new ScalarType((XSSimpleType) definition);
    }

    /** The nearest built-in type's local name, such as {@code decimal}; {@code list} and {@code union} for those. */
    public String base() {
        return base;
    }

    /** For a list its items' type, for a union its members'; otherwise empty (XSD part 2 §2.5.1). */
    public List<ScalarType> parts() {
        if (type.getVariety() == XSSimpleTypeDefinition.VARIETY_LIST) {
            return List.of(of(type.getItemType()));
        }
        List<ScalarType> out = new ArrayList<>();
        for (int i = 0;
                type.getVariety() == XSSimpleTypeDefinition.VARIETY_UNION
                        && i < type.getMemberTypes().getLength();
                i++) {
            out.add(of((XSSimpleTypeDefinition) type.getMemberTypes().item(i)));
        }
        return out;
    }

    /** The allowed values, or an empty list. */
    public List<String> enumeration() {
        StringList values = type.getLexicalEnumeration();
        List<String> out = new ArrayList<>(values.getLength());
        for (int i = 0; i < values.getLength(); i++) {
            out.add(values.item(i));
        }
        return out;
    }

    /** The limits in words, such as {@code 5 characters} or {@code 0–30}; empty when there are none. */
    public String limits() {
        List<String> parts = new ArrayList<>();
        String length = facet(XSSimpleTypeDefinition.FACET_LENGTH);
        String minLength = facet(XSSimpleTypeDefinition.FACET_MINLENGTH);
        String maxLength = facet(XSSimpleTypeDefinition.FACET_MAXLENGTH);
        if (length != null) {
            parts.add(length + " characters");
        } else if (maxLength != null) {
            parts.add(
                    (minLength == null || minLength.equals("0") ? "at most " + maxLength : minLength + "–" + maxLength)
                            + " characters");
        } else if (minLength != null && !minLength.equals("0")) {
            parts.add("at least " + minLength + (minLength.equals("1") ? " character" : " characters"));
        }
        if (!isBuiltIn()) {
            range(parts);
        }
        int values = type.getLexicalEnumeration().getLength();
        if (values > 0) {
            List<String> all = enumeration();
            parts.add(
                    values <= MAX_LISTED_VALUES ? "one of " + String.join(", ", all) : "one of " + values + " values");
        }
        StringList patterns = type.getLexicalPattern();
        XSSimpleType builtIn = BUILT_INS.getBuiltInType(base);
        if (patterns.getLength()
                        > (builtIn == null ? 0 : builtIn.getLexicalPattern().getLength())
                && !isBuiltIn()) {
            parts.add("pattern " + patterns.item(patterns.getLength() - 1));
        }
        return String.join("; ", parts);
    }

    private void range(List<String> parts) {
        String least = own(XSSimpleTypeDefinition.FACET_MININCLUSIVE);
        String above = facet(XSSimpleTypeDefinition.FACET_MINEXCLUSIVE);
        String most = own(XSSimpleTypeDefinition.FACET_MAXINCLUSIVE);
        String below = facet(XSSimpleTypeDefinition.FACET_MAXEXCLUSIVE);
        if (least != null && most != null) {
            parts.add(least + "–" + most);
        } else {
            addIf(parts, "at least ", least);
            addIf(parts, "more than ", above);
            addIf(parts, "at most ", most);
            addIf(parts, "less than ", below);
        }
        String digits = facet(XSSimpleTypeDefinition.FACET_TOTALDIGITS);
        String fraction = facet(XSSimpleTypeDefinition.FACET_FRACTIONDIGITS);
        if (digits != null) {
            parts.add(digits + " digits");
        }
        if (fraction != null && !fraction.equals("0")) {
            parts.add(fraction + " decimals");
        }
    }

    /** A facet, unless it is just the built-in type's. */
    private String own(short which) {
        String value = facet(which);
        XSSimpleType builtIn = BUILT_INS.getBuiltInType(base);
        return builtIn != null
                        && value != null
                        && builtIn.isDefinedFacet(which)
                        && builtIn.getLexicalFacetValue(which).equals(value)
                ? null
                : value;
    }

    private static void addIf(List<String> parts, String words, String value) {
        if (value != null) {
            parts.add(words + value);
        }
    }

    private boolean isBuiltIn() {
        return "http://www.w3.org/2001/XMLSchema".equals(type.getNamespace());
    }

    /** The defined name, or null when anonymous. */
    public QualifiedName name() {
        return type.getAnonymous() ? null : new QualifiedName(type.getNamespace(), type.getName());
    }

    public String facet(short which) {
        String value = type.isDefinedFacet(which) ? type.getLexicalFacetValue(which) : null;
        // Xerces gives a decimal limit back as 30.0 when the schema said 30.
        return value != null && value.matches("[+-]?\\d+\\.0") ? value.substring(0, value.length() - 2) : value;
    }

    /** The constraining patterns of this type, innermost last. */
    public List<String> patterns() {
        StringList patterns = type.getLexicalPattern();
        List<String> out = new ArrayList<>();
        for (int i = 0; i < patterns.getLength(); i++) {
            out.add(patterns.item(i));
        }
        return out;
    }

    XSSimpleTypeDefinition definition() {
        return type;
    }

    /**
     * Checks a lexical value.
     *
     * @return empty when it fits, otherwise what is wrong, in words, without the value's place
     */
    public Optional<String> problem(String value) {
        return anyText || quick.fits(value) ? Optional.empty() : problemByValidator(value);
    }

    /** Whether a value fits, as far as that can be said at once; if not, {@link #problem} has to say. */
    public boolean isSurely(String value) {
        return anyText || quick.fits(value);
    }

    /** The same of what is known to be of ASCII characters only. */
    public boolean isSurelyAsAscii(String value) {
        return anyText || quick.fitsAsAscii(value);
    }

    /** Whether what surely fits is of ASCII characters that need no escape in XML. */
    public boolean isBare() {
        return quick.isBare();
    }

    Optional<String> problemByValidator(String value) {
        try {
            type.validate(value, StatelessValidation.INSTANCE, new ValidatedInfo());
            return Optional.empty();
        } catch (InvalidDatatypeValueException e) {
            return Optional.of(Show.value(value) + " " + words(e.getKey()));
        }
    }

    private String words(String key) {
        return switch (key) {
            case "cvc-enumeration-valid" -> {
                List<String> all = enumeration();
                yield "is none of "
                        + (all.size() <= MAX_LISTED_VALUES
                                ? String.join(", ", all)
                                : "the " + all.size() + " allowed values");
            }
            case "cvc-maxLength-valid" ->
                "is longer than " + facet(XSSimpleTypeDefinition.FACET_MAXLENGTH) + " characters";
            case "cvc-minLength-valid" ->
                "is shorter than " + facet(XSSimpleTypeDefinition.FACET_MINLENGTH) + " characters";
            case "cvc-length-valid" -> "has not " + facet(XSSimpleTypeDefinition.FACET_LENGTH) + " characters";
            case "cvc-pattern-valid" ->
                isBuiltIn()
                        ? "is not " + article(base)
                        : "does not match the pattern " + String.join(" | ", patterns());
            case "cvc-maxInclusive-valid" -> "is more than " + facet(XSSimpleTypeDefinition.FACET_MAXINCLUSIVE);
            case "cvc-minInclusive-valid" -> "is less than " + facet(XSSimpleTypeDefinition.FACET_MININCLUSIVE);
            case "cvc-maxExclusive-valid" -> "is not less than " + facet(XSSimpleTypeDefinition.FACET_MAXEXCLUSIVE);
            case "cvc-minExclusive-valid" -> "is not more than " + facet(XSSimpleTypeDefinition.FACET_MINEXCLUSIVE);
            case "cvc-totalDigits-valid" ->
                "has more than " + facet(XSSimpleTypeDefinition.FACET_TOTALDIGITS) + " digits";
            case "cvc-fractionDigits-valid" ->
                "has more than " + facet(XSSimpleTypeDefinition.FACET_FRACTIONDIGITS) + " decimals";
            default -> "is not " + article(base);
        };
    }

    private static String article(String word) {
        return ("aeiou".indexOf(Character.toLowerCase(word.charAt(0))) >= 0 ? "an " : "a ") + word;
    }

    private static boolean constrains(XSSimpleType type) {
        return (type.getDefinedFacets() & ~XSSimpleTypeDefinition.FACET_WHITESPACE) != 0
                || type.getLexicalEnumeration().getLength() > 0;
    }

    private static String builtInBase(XSSimpleTypeDefinition type) {
        if (type.getVariety() == XSSimpleTypeDefinition.VARIETY_LIST) {
            return "list";
        }
        if (type.getVariety() == XSSimpleTypeDefinition.VARIETY_UNION) {
            return "union";
        }
        XSSimpleTypeDefinition at = type;
        while (at.getBaseType() instanceof XSSimpleTypeDefinition base
                && !(at.getName() != null && "http://www.w3.org/2001/XMLSchema".equals(at.getNamespace()))) {
            at = base;
        }
        return at.getName() == null ? "string" : at.getName();
    }
}
