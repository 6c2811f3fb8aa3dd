package org.wirekettle.call;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.ServiceSession.Login;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.problem.Show;
import org.wirekettle.shape.Shape;

/**
 * What a connection puts into messages: header blocks of a contract that it fills once for every call, and secrets.
 * Immutable.
 *
 * @param rules of rows of header blocks; an operation that has no such block goes without it
 * @param session what its rules may name as {@code $login}; null for none
 * @param secrets those that may go over it, for rules of a call as well
 * @param computed headers of the HTTP request that are computed for each call
 */
public record ConnectionHeaders(
        List<Rule> rules, @Nullable ServiceSession session, SecretValues secrets, List<Computed> computed) {
    public static final ConnectionHeaders NONE = new ConnectionHeaders(List.of(), null, SecretValues.NONE, List.of());
    private static final int MAX_HEADER_CHARS = 8_000;

    /** A header with an expression for its value; over the record of a call, if there is one. */
    public record Computed(String name, Expression value) {}

    /** The name as a whole, and no longer one that begins so. */
    private static final Pattern SESSION = Pattern.compile("\\$" + ServiceSession.VARIABLE + "(?![\\w.-])");
    /** How segments of header blocks begin, see {@link Shape#segments()}. */
    private static final String HEADER = "header:";

    public ConnectionHeaders {
        rules = List.copyOf(rules);
    }

    /**
     * The fill of a call, with what the connection adds to it.
     *
     * @param known without secrets: by what it writes a call is known again, whatever a secret's value is by then
     * @param session that it needs; null for none
     */
    public record Filling(Fill fill, Fill known, @Nullable ServiceSession session) {}

    /** @param own rules of the call */
    public Filling filling(List<Rule> own, Shape request, Expressions expressions) {
        Mapping all = new Mapping(beside(own, request));
        ServiceSession needed = isNeededBy(all.rules()) ? session : null;
        Expressions seen = needed == null ? expressions : expressions.alsoKnowing(ServiceSession.VARIABLE);
        Fill fill = Fill.compile(all, request, seen, secrets);
        return new Filling(fill, fill.secrets().isEmpty() ? fill : Fill.compile(all, request, seen), needed);
    }

    /** The call's own rules, and those of the connection for rows that it says nothing about. */
    List<Rule> beside(List<Rule> own, Shape request) {
        if (rules.isEmpty()) {
            return own;
        }
        Set<String> blocks = request.segments().keySet();
        Set<String> said = new HashSet<>();
        own.forEach(r -> said.add(r.path()));
        List<Rule> out = new ArrayList<>(own);
        for (Rule r : rules) {
            String block = r.path().split("/", 2)[0];
            if (block.startsWith(HEADER) && blocks.contains(block) && !said.contains(r.path())) {
                out.add(r);
            }
        }
        return out;
    }

    /** Whether rules of the connection are among those of a call. */
    private boolean isNeededBy(List<Rule> all) {
        return session != null
                && all.stream()
                        .anyMatch(r -> r.computed() != null
                                && SESSION.matcher(r.computed()).find());
    }

    /**
     * The computed ones for one call, by name; one without a value is left out.
     *
     * @throws EvaluationFailed when a value cannot be had, or is none of a header
     */
    public List<String[]> http(Scope scope) throws EvaluationFailed {
        if (computed.isEmpty()) {
            return List.of();
        }
        List<String[]> out = new ArrayList<>();
        for (Computed c : computed) {
            String value = c.value.string(scope);
            if (value != null && !value.isBlank()) {
                out.add(new String[] {c.name, checked(c.name, value.strip())});
            }
        }
        return out;
    }

    /** Who could end the line could add headers, and a second request (RFC 9110 §5.5). */
    private static String checked(String name, String value) throws EvaluationFailed {
        if (value.length() > MAX_HEADER_CHARS || value.chars().anyMatch(ch -> ch < ' ' || ch > 0xFF || ch == 0x7F)) {
            throw new EvaluationFailed("the header " + name + " would be " + Show.value(value)
                    + ": a header has at most " + MAX_HEADER_CHARS + " characters, of Latin-1, in one line");
        }
        return value;
    }

    /** What a call sees beside the record. @param used null for none */
    public static Scope in(Scope scope, @Nullable Login used) {
        return ServiceSession.in(scope, used);
    }
}
