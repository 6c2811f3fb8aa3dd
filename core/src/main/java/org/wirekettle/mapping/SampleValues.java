package org.wirekettle.mapping;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.apache.xerces.xs.XSSimpleTypeDefinition;
import org.wirekettle.shape.ScalarType;

/** Makes values that fit a type: several are tried, and the type itself decides. Used by one example. */
final class SampleValues {
    private static final Map<String, List<String>> BY_BASE = Map.ofEntries(
            Map.entry("boolean", List.of("true")),
            Map.entry("dateTime", List.of("2031-04-02T21:40:00", "2031-04-02T21:40:00Z", "1999-12-31T00:00:00")),
            Map.entry("date", List.of("2031-04-02", "1999-12-31")),
            Map.entry("time", List.of("21:40:00")),
            Map.entry("duration", List.of("P1D", "PT1H")),
            Map.entry("gYear", List.of("2031")),
            Map.entry("gYearMonth", List.of("2031-04")),
            Map.entry("gMonthDay", List.of("--04-02")),
            Map.entry("gDay", List.of("---02")),
            Map.entry("gMonth", List.of("--04")),
            Map.entry("anyURI", List.of("http://example.org/", "urn:example", "a")),
            Map.entry("base64Binary", List.of("dGlkZQ==", "")),
            Map.entry("hexBinary", List.of("7469", "74", "")),
            Map.entry("QName", List.of("name")),
            Map.entry("language", List.of("en")),
            Map.entry("NMTOKENS", List.of("one two", "one")),
            Map.entry("IDREF", List.of("id1")),
            Map.entry("IDREFS", List.of("id1")),
            Map.entry("float", List.of("1.5", "1", "0")),
            Map.entry("double", List.of("1.5", "1", "0")));

    private int ids;

    boolean madeNoId() {
        return ids == 0;
    }

    /** @param nth which of several occurrences: another value for each, where the type leaves room */
    String of(ScalarType type, int nth) {
        if (nth > 1 && type.enumeration().isEmpty()) {
            for (String other : new String[] {
                String.valueOf(nth),
                "text" + nth,
                String.format("2031-04-%02d", nth % 28 + 1),
                String.format("2031-04-%02dT21:40:00", nth % 28 + 1)
            }) {
                if (type.problem(other).isEmpty()
                        && !type.base().equals("ID")
                        && !type.base().startsWith("IDREF")) {
                    return other;
                }
            }
        } else if (nth > 1) {
            return type.enumeration().get((nth - 1) % type.enumeration().size());
        }
        return of(type);
    }

    String of(ScalarType type) {
        if (!type.enumeration().isEmpty()) {
            return type.enumeration().get(0);
        }
        if (type.base().equals("ID")) {
            return "id" + ++ids;
        }
        for (String candidate : candidates(type)) {
            if (type.problem(candidate).isEmpty()) {
                return candidate;
            }
        }
        return "";
    }

    private List<String> candidates(ScalarType type) {
        List<String> out = new ArrayList<>(BY_BASE.getOrDefault(type.base(), List.of()));
        if (type.base().equals("list")) {
            String item = of(type.parts().get(0));
            for (int n : new int[] {
                1,
                length(type, XSSimpleTypeDefinition.FACET_LENGTH),
                length(type, XSSimpleTypeDefinition.FACET_MINLENGTH)
            }) {
                out.add((item + " ").repeat(Math.max(0, Math.min(n, 1_000))).strip());
            }
        } else if (type.base().equals("union")) {
            type.parts().forEach(member -> out.add(of(member)));
        }
        numbers(type, out);
        List<String> patterns = type.patterns();
        for (int i = patterns.size() - 1; i >= 0; i--) {
            out.addAll(PatternSamples.of(patterns.get(i)));
        }
        int[] lengths = {
            length(type, XSSimpleTypeDefinition.FACET_LENGTH),
            length(type, XSSimpleTypeDefinition.FACET_MINLENGTH),
            length(type, XSSimpleTypeDefinition.FACET_MAXLENGTH)
        };
        for (int n : lengths) {
            if (n >= 0 && n <= 10_000) {
                out.add("abcdefgh".repeat(n / 8 + 1).substring(0, n));
                out.add("1".repeat(n));
                out.add("A".repeat(n));
                out.add("00".repeat(n));
                out.add("AAAA".repeat(n / 3) + (n % 3 == 1 ? "AA==" : n % 3 == 2 ? "AAA=" : ""));
                out.add("one ".repeat(n).strip());
            }
        }
        out.addAll(
                0,
                type.base().equals("string")
                                || type.base().equals("token")
                                || type.base().equals("normalizedString")
                        ? List.of("text", "a")
                        : List.of());
        out.addAll(List.of(
                "text",
                "a",
                "1",
                "0",
                "A",
                "true",
                "2031-04-02",
                "2031-04-02T21:40:00",
                "en",
                "http://example.org/",
                "12345",
                "2031",
                ""));
        return out;
    }

    private static void numbers(ScalarType type, List<String> out) {
        out.add("1");
        for (short facet : new short[] {
            XSSimpleTypeDefinition.FACET_MININCLUSIVE,
            XSSimpleTypeDefinition.FACET_MAXINCLUSIVE,
            XSSimpleTypeDefinition.FACET_MINEXCLUSIVE,
            XSSimpleTypeDefinition.FACET_MAXEXCLUSIVE
        }) {
            String limit = type.facet(facet);
            if (limit != null) {
                out.add(limit);
                try {
                    BigDecimal n = new BigDecimal(limit);
                    out.add(n.add(BigDecimal.ONE).toPlainString());
                    out.add(n.subtract(BigDecimal.ONE).toPlainString());
                    for (String step : new String[] {"0.1", "0.01", "0.001", "0.000001"}) {
                        out.add(n.add(new BigDecimal(step)).toPlainString());
                        out.add(n.subtract(new BigDecimal(step)).toPlainString());
                    }
                } catch (NumberFormatException e) {
                    neighbouringYears(limit, out);
                }
            }
        }
    }

    /** A limit on dates: itself, and a year before and after. */
    private static void neighbouringYears(String limit, List<String> out) {
        if (limit.matches("\\d{4}(-.*)?")) {
            int year = Integer.parseInt(limit.substring(0, 4));
            out.add(String.format("%04d", year + 1) + limit.substring(4));
            out.add(String.format("%04d", Math.max(1, year - 1)) + limit.substring(4));
        }
    }

    private static int length(ScalarType type, short facet) {
        String value = type.facet(facet);
        return value == null || value.length() > 6 ? -1 : Integer.parseInt(value);
    }
}
