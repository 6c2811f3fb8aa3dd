package org.wirekettle.input;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.document.DocumentLanguage;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.document.SchemaText;
import org.wirekettle.expression.Expression;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ValueKind;
import org.wirekettle.xml.FieldNames;

/** A flow's inputs, ready to read what is given. Immutable; shareable by threads. */
public final class Inputs {
    /** Of one flow, with those inside of others. */
    public static final int MAX_INPUTS = 2_000;

    private static final int MAX_DEPTH = 20;
    private static final int MAX_SHAPES = 100;
    /** While a flow is designed, its inputs are compiled at every keystroke, and seldom others. */
    private static final Map<String, Shape> SHAPES = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Shape> eldest) {
            return size() > MAX_SHAPES;
        }
    };

    private static final int MAX_NAME = 200;

    private final List<Input> definition;
    private final Map<String, One> byName;
    private final List<Problem> problems;
    private final Expressions expressions;

    /**
     * One of them.
     *
     * @param type null for one with others inside, and for any JSON
     * @param inside null where that is not known
     */
    record One(
            Input input,
            String element,
            @Nullable ScalarType type,
            @Nullable Expression otherwise,
            @Nullable Map<String, One> inside) {
        boolean isJson() {
            return input.typeName().equals(Field.JSON);
        }
    }

    private Inputs(List<Input> definition, Map<String, One> byName, List<Problem> problems, Expressions expressions) {
        this.expressions = expressions;
        this.definition = definition;
        this.byName = byName;
        this.problems = problems;
    }

    /** Never fails: what is wrong is in {@link #problems()}; a problem's row is the input's path. */
    public static Inputs compile(List<Input> inputs, Expressions expressions) {
        List<Problem> problems = new ArrayList<>();
        int[] count = {0};
        names(inputs, "", 1, count, problems);
        if (count[0] > MAX_INPUTS) {
            problems.add(Problem.ofRow("", "input", "has more than " + MAX_INPUTS + " inputs"));
        }
        Map<String, One> compiled = Map.of();
        if (problems.isEmpty()) {
            try {
                compiled = ones(inputs, "", shape(inputs).children(), expressions, problems);
            } catch (Refused e) {
                problems.add(Problem.ofRow("", "input", "cannot be read: " + e.getMessage()));
            }
        }
        return new Inputs(List.copyOf(inputs), compiled, List.copyOf(problems), expressions);
    }

    private static Shape shape(List<Input> inputs) {
        synchronized (SHAPES) {
            return SHAPES.computeIfAbsent(InputXsd.of(inputs), xsd -> DocumentShape.read(
                            DocumentLanguage.XSD, List.of(new SchemaText("inputs", xsd)), null)
                    .root()
                    .children()
                    .get(0));
        }
    }

    private static void names(List<Input> inputs, String around, int depth, int[] count, List<Problem> problems) {
        if (depth > MAX_DEPTH) {
            problems.add(Problem.ofRow(around, "input", "is more than " + MAX_DEPTH + " deep"));
            return;
        }
        Set<String> names = new HashSet<>();
        for (Input i : inputs) {
            count[0]++;
            String path = around.isEmpty() ? i.name() : around + "/" + i.name();
            Function<String, Problem> wrong = text -> Problem.ofRow(path, "input", text);
            if (i.name().isBlank() || i.name().length() > MAX_NAME) {
                problems.add(wrong.apply("needs a name of at most " + MAX_NAME + " characters"));
            } else if (!names.add(FieldNames.name(i.name()))) {
                problems.add(wrong.apply("is there twice"));
            } else if (i.fields() != null && !i.typeName().equals(Field.NESTED)) {
                problems.add(wrong.apply("has inputs inside, so that it has no type of its own"));
            } else if (i.typeName().equals(Field.NESTED)) {
                if (i.fields() != null) {
                    names(i.fields(), path, depth + 1, count, problems);
                }
            } else if (!i.typeName().equals(Field.JSON)) {
                limits(i, wrong, problems);
            }
        }
    }

    private static void limits(Input i, Function<String, Problem> wrong, List<Problem> problems) {
        ScalarType type;
        try {
            type = ScalarType.builtIn(i.typeName());
        } catch (IllegalArgumentException e) {
            problems.add(wrong.apply("has the type " + i.typeName() + ", which there is not"));
            return;
        }
        List<String> given = new ArrayList<>(i.choices() == null ? List.of() : i.choices());
        ValueKind kind = ValueKind.of(i.typeName());
        boolean isOrdered = kind != ValueKind.TEXT && kind != ValueKind.TRUTH;
        if ((i.least() != null || i.most() != null) && !isOrdered) {
            problems.add(wrong.apply("has a least or most, which values of the type " + i.typeName() + " do not"));
        }
        if (i.length() != null && (i.length() < 1 || kind != ValueKind.TEXT)) {
            problems.add(wrong.apply("has a length, which is for texts, and at least 1"));
        }
        if (i.pattern() != null && kind != ValueKind.TEXT) {
            problems.add(wrong.apply("has a pattern, which is for texts"));
        }
        if (i.least() != null) {
            given.add(i.least());
        }
        if (i.most() != null) {
            given.add(i.most());
        }
        for (String g : given) {
            type.problem(g).ifPresent(why -> problems.add(wrong.apply("has a limit that " + why)));
        }
    }

    private static Map<String, One> ones(
            List<Input> inputs, String around, List<Shape> shapes, Expressions expressions, List<Problem> problems) {
        Map<String, One> out = new LinkedHashMap<>();
        for (int n = 0; n < inputs.size(); n++) {
            Input i = inputs.get(n);
            Shape shape = shapes.get(n);
            String path = around.isEmpty() ? i.name() : around + "/" + i.name();
            Expression otherwise = null;
            if (i.otherwise() != null && !i.otherwise().isBlank()) {
                try {
                    otherwise = expressions.compile(i.otherwise());
                } catch (ExpressionFault e) {
                    problems.add(e.inRow(path));
                }
            }
            boolean isNested = i.typeName().equals(Field.NESTED);
            Map<String, One> inside = isNested && i.fields() != null
                    ? ones(i.fields(), path, shape.children(), expressions, problems)
                    : null;
            ScalarType type = isNested || i.typeName().equals(Field.JSON) ? null : shape.scalar();
            out.put(i.name(), new One(i, FieldNames.name(i.name()), type, otherwise, inside));
        }
        return out;
    }

    public List<Problem> problems() {
        return problems;
    }

    public List<Input> definition() {
        return definition;
    }

    /** What computes values for them. */
    public Expressions expressions() {
        return expressions;
    }

    Map<String, One> byName() {
        return byName;
    }

    /** As expressions know them. */
    public List<Field> fields() {
        return fields(definition);
    }

    private static List<Field> fields(List<Input> inputs) {
        return inputs.stream().map(Inputs::field).toList();
    }

    private static Field field(Input i) {
        List<Field> inside = i.fields() == null ? null : fields(i.fields());
        boolean isFree = i.typeName().equals(Field.NESTED) && inside == null;
        return new Field(
                FieldNames.name(i.name()),
                i.name(),
                i.typeName(),
                null,
                i.isRequired(),
                null,
                i.isMany() ? true : null,
                isFree ? List.of() : inside,
                null,
                i.length());
    }

    /** Begins to read what one request gives. */
    public InputReading reading() {
        return new InputReading(this);
    }
}
