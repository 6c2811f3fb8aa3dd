package org.wirekettle.expression;

import java.util.Collection;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * Compiles XPath 3.1. A name without prefix matches in any namespace; the prefix {@code wk} is our function library.
 * Nearly all expressions of mappings are compiled to Java; others that cannot run away are evaluated by Saxon here, the
 * rest by Saxon in a process that can be ended. Shareable; one for the whole application.
 */
public final class Expressions implements AutoCloseable {
    /** Characters of one expression. */
    public static final int MAX_CHARS = 20_000;
    /** Characters of a stylesheet or a query. */
    public static final int MAX_DOCUMENT_CHARS = 500_000;

    /** What is known where no flow says so. */
    private static final Set<String> NAMES = new LinkedHashSet<>(List.of("record", "reply", "run", "input", "flow"));

    private static final int MAX_KEPT = 2_000;

    private final FullEngine full;
    private final Evaluators evaluators;
    private final Map<String, Expression> guarded;
    private final Set<String> names;
    /** Of some names, the fields that there are. */
    private final Map<String, Set<String>> fields;
    /** Told the name and the field where an expression asks for one that is not there. */
    private final Noticing noticing;
    /** What values may be looked up in. */
    private final ValueLists lists;

    /**
     * Which way an expression is evaluated. The result is the same; the ways are told apart for tests and for
     * measuring.
     */
    public enum Engine {
        /** The fastest that takes it. */
        ANY,
        /** Compiled to Java, without an XPath engine. */
        PLAIN,
        /** All of XPath, in this process, without limits of time and memory. */
        FULL
    }

    public Expressions() {
        this(EvaluationLimits.USUAL, Math.max(2, Runtime.getRuntime().availableProcessors()));
    }

    /** @param processes in which expressions are evaluated at a time that might run away */
    public Expressions(EvaluationLimits limits, int processes) {
        this.full = new FullEngine();
        this.names = NAMES;
        this.fields = Map.of();
        this.noticing = NOTHING;
        this.lists = ValueLists.NONE;
        this.evaluators = new Evaluators(limits, processes);
        this.guarded = Collections.synchronizedMap(new LinkedHashMap<>(16, 0.75f, true) {
            private static final long serialVersionUID = 1;

            @Override
            protected boolean removeEldestEntry(Map.Entry<String, Expression> eldest) {
                return size() > MAX_KEPT;
            }
        });
    }

    private Expressions(
            Expressions of, Set<String> names, Map<String, Set<String>> fields, Noticing noticing, ValueLists lists) {
        this.lists = lists;
        this.fields = fields;
        this.noticing = noticing;
        this.full = of.full;
        this.evaluators = of.evaluators;
        this.guarded = of.guarded;
        this.names = names;
    }

    /** The same engines where other variables are known. @param variables their names, without the dollar sign */
    public Expressions knowing(Collection<String> variables) {
        return knowing(variables, Map.of(), NOTHING);
    }

    /** Told of the fields that expressions ask for, by the name they ask; the context is {@code .}. */
    public interface Noticing {
        void missing(String name, String field);

        /** A field's value is taken as it stands. @param type what takes it, a built-in type. @param row where */
        default void goesInto(String name, String field, String type, String row) {
            // of no interest
        }
    }

    private static final Noticing NOTHING = (name, field) -> {};

    /**
     * Likewise, noticing what is asked of fields.
     *
     * @param known of some names, and of the context as {@code .}: the fields that there are
     */
    public Expressions knowing(Collection<String> variables, Map<String, Set<String>> known, Noticing noticed) {
        return new Expressions(
                this, Collections.unmodifiableSet(new LinkedHashSet<>(variables)), Map.copyOf(known), noticed, lists);
    }

    /** The same, where one more variable is known. */
    public Expressions alsoKnowing(String variable) {
        if (names == null || names.contains(variable)) {
            return this;
        }
        Set<String> more = new LinkedHashSet<>(names);
        more.add(variable);
        return new Expressions(this, more, fields, noticing, lists);
    }

    /** The same where something else is looked at, of which the fields are not known. */
    public Expressions elsewhere() {
        if (!fields.containsKey(FieldUse.CONTEXT)) {
            return this;
        }
        Map<String, Set<String>> others = new LinkedHashMap<>(fields);
        others.remove(FieldUse.CONTEXT);
        return new Expressions(this, names, others, noticing, lists);
    }

    /** The same where values may be looked up in lists. */
    public Expressions with(ValueLists others) {
        return new Expressions(this, names, fields, noticing, others);
    }

    /** What values may be looked up in. */
    public ValueLists lists() {
        return lists;
    }

    /** @throws ExpressionFault when it is no XPath 3.1 or names something unknown, with the place */
    public Expression compile(String source) throws ExpressionFault {
        return compile(source, Map.of());
    }

    /**
     * Notes where an expression's value goes.
     *
     * @param type a built-in type's local name
     * @param row the path of what takes it
     */
    public void goesInto(String source, String type, String row) {
        if (!fields.isEmpty()) {
            FieldUse.whole(source)
                    .filter(f -> fields.getOrDefault(f.name(), Set.of()).contains(f.field()))
                    .ifPresent(f -> noticing.goesInto(f.name(), f.field(), type, row));
        }
    }

    /** Likewise, knowing further prefixes, such as those of the message it looks at. */
    public Expression compile(String source, Map<String, String> prefixes) throws ExpressionFault {
        return compile(source, prefixes, Engine.ANY);
    }

    /** @throws ExpressionFault also when the engine asked for does not take it */
    public Expression compile(String source, Map<String, String> prefixes, Engine engine) throws ExpressionFault {
        Expression compiled = compiled(source, prefixes, engine);
        if (!fields.isEmpty()) {
            FieldUse.unknown(source, fields).forEach(u -> noticing.missing(u.name(), u.field()));
        }
        return compiled;
    }

    private Expression compiled(String source, Map<String, String> prefixes, Engine engine) throws ExpressionFault {
        if (source.length() > MAX_CHARS) {
            throw new ExpressionFault(
                    "The expression has " + source.length() + " characters; the limit is " + MAX_CHARS + ".", -1);
        }
        if (engine == Engine.FULL) {
            return full.compile(source, prefixes, names);
        }
        Optional<Expression> plain =
                PlainExpression.compile(source, names, () -> full.compile(source, prefixes, names));
        if (plain.isPresent()) {
            return plain.get();
        }
        if (engine == Engine.PLAIN) {
            throw new ExpressionFault(
                    "This expression is not one of those that are compiled to Java; it needs the full engine.", -1);
        }
        if (Tame.is(source)) {
            return new TameExpression(
                    full.compile(source, prefixes, names),
                    new TameExpression.GuardedSource(source, prefixes, names, evaluators),
                    FullEngine.variables(source, names));
        }
        String key = source + "\0" + new TreeMap<>(prefixes) + "\0" + FullEngine.variables(source, names);
        Expression known = guarded.get(key);
        if (known == null) {
            known = GuardedExpression.compile(source, prefixes, names, evaluators);
            guarded.put(key, known);
        }
        return known;
    }

    /**
     * Compiles a stylesheet or a query: a text of its own, larger than an expression.
     *
     * @throws ExpressionFault with line and column
     */
    public Expression compile(Language language, String source) throws ExpressionFault {
        if (source.length() > MAX_DOCUMENT_CHARS) {
            throw new ExpressionFault(
                    "The text has " + source.length() + " characters; the limit is " + MAX_DOCUMENT_CHARS + ".", -1);
        }
        return language == Language.XPATH
                ? compile(source)
                : GuardedExpression.compile(language, source, names, evaluators);
    }

    @Override
    public void close() {
        evaluators.close();
    }
}
