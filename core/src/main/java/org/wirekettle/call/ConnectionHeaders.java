package org.wirekettle.call;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.ServiceSession.Login;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.shape.Shape;

/**
 * What a connection puts into messages: header blocks of a contract that it fills once for every call, and secrets.
 * Immutable.
 *
 * @param rules of rows of header blocks; an operation that has no such block goes without it
 * @param session what its rules may name as {@code $login}; null for none
 * @param secrets those that may go over it, for rules of a call as well
 */
public record ConnectionHeaders(List<Rule> rules, @Nullable ServiceSession session, SecretValues secrets) {
    public static final ConnectionHeaders NONE = new ConnectionHeaders(List.of(), null, SecretValues.NONE);
    /** The name as a whole, and no longer one that begins so. */
    private static final Pattern SESSION = Pattern.compile("\\$" + ServiceSession.VARIABLE + "(?![\\w.-])");
    /** How segments of header blocks begin, see {@link Shape#segments()}. */
    private static final String HEADER = "header:";

    public ConnectionHeaders {
        rules = List.copyOf(rules);
    }

    /** The call's own rules, and those of the connection for rows that it says nothing about. */
    public List<Rule> beside(List<Rule> own, Shape request) {
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
    public boolean isNeededBy(List<Rule> all) {
        return session != null
                && all.stream()
                        .anyMatch(r -> r.computed() != null
                                && SESSION.matcher(r.computed()).find());
    }

    /** What a call sees beside the record. @param used null for none */
    public static Scope in(Scope scope, @Nullable Login used) {
        return ServiceSession.in(scope, used);
    }
}
