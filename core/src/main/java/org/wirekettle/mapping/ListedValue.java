package org.wirekettle.mapping;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.Scope;
import org.wirekettle.expression.ValueLists;
import org.wirekettle.mapping.Mapping.ListRule;
import org.wirekettle.problem.Show;
import org.wirekettle.record.Node;

/** A value that is looked up in a list before it is used. Immutable; any thread may use it. */
record ListedValue(Expression looked, ListRule rule, ValueLists.ValueList list) implements Expression {
    /** @throws ValueLists.NoList when there is no such list */
    static ListedValue of(Expression looked, ListRule rule, ValueLists lists) throws ValueLists.NoList {
        if (rule.source() != null) {
            return new ListedValue(looked, rule, lists.find(rule.source(), rule.key(), rule.value()));
        }
        Map<String, List<String>> entries = new HashMap<>();
        rule.entries().forEach(e -> entries.putIfAbsent(e.from(), List.of(e.to())));
        return new ListedValue(looked, rule, key -> entries.getOrDefault(key, List.of()));
    }

    @Override
    public String source() {
        return looked.source();
    }

    @Override
    public String string(Scope scope) throws EvaluationFailed {
        String key = looked.string(scope);
        if (key == null) {
            return null;
        }
        List<String> found = list.find(key);
        if (found.size() > 1) {
            throw new EvaluationFailed(
                    Show.value(key) + " has " + found.size() + " values in " + rule.name() + "; a list gives one");
        }
        return found.isEmpty() ? notThere(key) : found.get(0);
    }

    private String notThere(String key) throws EvaluationFailed {
        return switch (rule.notThere() == null ? ListRule.NotThere.REFUSE : rule.notThere()) {
            case KEEP -> key;
            case EMPTY -> null;
            case TEXT -> rule.text() == null ? "" : rule.text();
            case REFUSE -> throw new EvaluationFailed(Show.value(key) + " is not in " + rule.name());
        };
    }

    @Override
    public List<Node> nodes(Scope scope) throws EvaluationFailed {
        String value = string(scope);
        return value == null ? List.of() : List.of(Node.leaf("item", value));
    }
}
