package org.wirekettle.expression;

import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.DateTimeException;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAccessor;
import java.util.Base64;
import java.util.Collection;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.UUID;
import org.wirekettle.problem.Show;

/**
 * Our function library, prefix {@code wk}: what XPath 3.1 lacks. Every function takes single values and gives one of
 * its result type, written as XPath writes it; an empty first argument gives an empty result.
 */
public final class Functions {
    /** The namespace of the prefix {@code wk}. */
    public static final String NAMESPACE = "urn:wire-kettle:functions";

    /** Values that a key is made of. */
    private static final int MAX_PARTS = 8;

    private static final int MAX_NUMBER_CHARS = 1_000;
    private static final Map<String, Function> ALL = new LinkedHashMap<>();

    static {
        add(
                "date-time",
                "value, pattern",
                "The date and time read by a pattern such as 'dd.MM.yyyy HH:mm', as xs:dateTime.",
                2,
                2,
                a -> DatePattern.of(a[1]).dateTime(a[0]));
        add(
                "date",
                "value, pattern",
                "The date read by a pattern such as 'd/M/yyyy', as xs:date.",
                2,
                2,
                a -> DatePattern.of(a[1]).date(a[0]));
        add(
                "format-date",
                "value, pattern",
                "An xs:date or xs:dateTime written by a pattern.",
                2,
                2,
                a -> format(a[0], a[1]));
        add(
                "number",
                "value, decimal-sign, grouping-sign?",
                "A number with local separators, such as '1.204,5', as xs:decimal.",
                2,
                3,
                Functions::number);
        add("sha256", "value", "The SHA-256 of the text's UTF-8 bytes, in hex.", 1, 1, a -> sha256(a[0]));
        add("base64", "value", "The text's UTF-8 bytes in Base64.", 1, 1, a -> Base64.getEncoder()
                .encodeToString(a[0].getBytes(StandardCharsets.UTF_8)));
        add("from-base64", "value", "The text that Base64 holds in UTF-8.", 1, 1, a -> fromBase64(a[0]));
        add("uuid", "", "A new random UUID.", 0, 0, a -> UUID.randomUUID().toString());
        add(
                "key",
                "value, value?, ...",
                "A UUID made of the values: the same whenever they are the same, so that it links records.",
                1,
                MAX_PARTS,
                Functions::key);
        add("trim", "value", "Without white space at both ends.", 1, 1, a -> a[0].strip());
        add(
                "if-empty",
                "value, otherwise",
                "The value, or the other when it is empty.",
                2,
                2,
                a -> a[0] == null || a[0].isBlank() ? a[1] : a[0]);
    }

    private Functions() {}

    /** What a function does with its arguments. */
    @FunctionalInterface
    interface Body {
        String apply(String[] arguments) throws EvaluationFailed;
    }

    /** What a function's result is in XPath. */
    enum Result {
        STRING,
        DECIMAL,
        DATE,
        DATE_TIME
    }

    /** One function: its name without prefix, its parameters and what it is for, in words for completion. */
    public record Function(
            String name, String parameters, String documentation, int least, int most, Result result, Body body) {
        /** Whether it gives another value each time. */
        boolean isRandom() {
            return name.equals("uuid");
        }

        boolean accepts(int count) {
            return count >= least && count <= most;
        }

        String apply(String[] arguments) throws EvaluationFailed {
            if (arguments.length > 0 && arguments[0] == null && !name.equals("if-empty")) {
                return null;
            }
            return body.apply(arguments);
        }
    }

    private static void add(String name, String parameters, String documentation, int least, int most, Body body) {
        Result result = name.equals("number")
                ? Result.DECIMAL
                : name.equals("date") ? Result.DATE : name.equals("date-time") ? Result.DATE_TIME : Result.STRING;
        ALL.put(name, new Function(name, parameters, documentation, least, most, result, body));
    }

    public static Collection<Function> all() {
        return ALL.values();
    }

    /** What a function of ours gives. @throws EvaluationFailed in words, when the values do not fit it */
    public static String apply(String name, String... arguments) throws EvaluationFailed {
        return ALL.get(name).apply(arguments);
    }

    static Function byName(String name) {
        return ALL.get(name);
    }

    private static String format(String value, String pattern) throws EvaluationFailed {
        try {
            TemporalAccessor t = value.contains("T")
                    ? DateTimeFormatter.ISO_DATE_TIME.parse(value.strip())
                    : DateTimeFormatter.ISO_DATE.parse(value.strip());
            return DatePattern.of(pattern).formatter().format(t);
        } catch (DateTimeException e) {
            throw new EvaluationFailed(Show.value(value) + " cannot be written as " + pattern);
        }
    }

    private static String number(String[] a) throws EvaluationFailed {
        String s = a[0].strip().replace("\u00a0", "").replace(" ", "");
        if (a.length > 2 && a[2] != null) {
            s = s.replace(a[2], "");
        }
        s = s.replace(a[1], ".");
        try {
            if (s.length() > MAX_NUMBER_CHARS) {
                throw new EvaluationFailed(Show.value(a[0]) + " is too long for a number");
            }
            return decimal(new BigDecimal(s));
        } catch (NumberFormatException e) {
            throw new EvaluationFailed(Show.value(a[0]) + " is not a number");
        }
    }

    /** As XPath writes an xs:decimal: no exponent, no zeros at the end. */
    static String decimal(BigDecimal d) throws EvaluationFailed {
        if (Math.abs((long) d.scale()) > MAX_NUMBER_CHARS) {
            throw new EvaluationFailed("the number has too many digits");
        }
        return d.signum() == 0 ? "0" : d.stripTrailingZeros().toPlainString();
    }

    /** Of any text (RFC 9562 §5.8); how long each value is counts, so that none runs into the next. */
    private static String key(String[] values) {
        MessageDigest digest = Sha256.begun();
        for (String v : values) {
            byte[] bytes = v == null ? new byte[0] : v.getBytes(StandardCharsets.UTF_8);
            digest.update((v == null ? "-" : bytes.length + ":").getBytes(StandardCharsets.UTF_8));
            digest.update(bytes);
        }
        ByteBuffer first = ByteBuffer.wrap(digest.digest());
        long high = first.getLong() & ~0xF000L | 0x8000L;
        long low = first.getLong() & 0x3FFFFFFFFFFFFFFFL | 0x8000000000000000L;
        return new UUID(high, low).toString();
    }

    private static String sha256(String value) {
        return HexFormat.of().formatHex(Sha256.begun().digest(value.getBytes(StandardCharsets.UTF_8)));
    }

    private static String fromBase64(String value) throws EvaluationFailed {
        try {
            return new String(Base64.getMimeDecoder().decode(value), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            throw new EvaluationFailed(Show.value(value) + " is not Base64");
        }
    }
}
