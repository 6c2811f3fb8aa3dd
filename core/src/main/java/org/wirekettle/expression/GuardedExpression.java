package org.wirekettle.expression;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wirekettle.record.Node;

/**
 * An expression that is evaluated in another process, which ends when it takes too long. Immutable; any thread may use
 * it.
 */
final class GuardedExpression implements Expression {
    private final Language language;
    private final String source;
    private final Map<String, String> prefixes;
    private final List<String> variables;
    private final boolean needsContext;
    private final Evaluators evaluators;

    private GuardedExpression(
            Language language,
            String source,
            Map<String, String> prefixes,
            List<String> variables,
            boolean needsContext,
            Evaluators evaluators) {
        this.language = language;
        this.source = source;
        this.prefixes = prefixes;
        this.variables = variables;
        this.needsContext = needsContext;
        this.evaluators = evaluators;
    }

    /** Compiles there, too: values that do not depend on the record are computed at once. */
    static GuardedExpression compile(
            String source, Map<String, String> prefixes, Set<String> names, Evaluators evaluators)
            throws ExpressionFault {
        return compile(Language.XPATH, source, prefixes, FullEngine.variables(source, names), evaluators);
    }

    /** A stylesheet or a query. */
    static GuardedExpression compile(Language language, String source, Set<String> names, Evaluators evaluators)
            throws ExpressionFault {
        List<String> variables =
                names.stream().filter(n -> TransformEngine.isNamed(n, source)).toList();
        return compile(language, source, Map.of(), variables, evaluators);
    }

    private static GuardedExpression compile(
            Language language,
            String source,
            Map<String, String> prefixes,
            List<String> variables,
            Evaluators evaluators)
            throws ExpressionFault {
        try {
            DataInputStream in =
                    evaluators.ask(out -> head(EvaluatorMain.COMPILE, language, source, prefixes, variables, out));
            byte how = in.readByte();
            if (how == EvaluatorMain.FAULT) {
                throw new ExpressionFault(NodeWire.text(in), in.readInt());
            }
            return new GuardedExpression(language, source, prefixes, variables, in.readBoolean(), evaluators);
        } catch (EvaluationFailed e) {
            throw new ExpressionFault("The expression cannot be used: " + e.getMessage() + ".", -1);
        } catch (IOException e) {
            throw new UncheckedIOException("an answer in memory is damaged", e);
        }
    }

    private static void head(
            byte what,
            Language language,
            String source,
            Map<String, String> prefixes,
            List<String> variables,
            DataOutputStream out)
            throws IOException {
        out.writeByte(what);
        out.writeByte(language.ordinal());
        NodeWire.text(source, out);
        out.writeInt(prefixes.size());
        for (Map.Entry<String, String> p : prefixes.entrySet()) {
            NodeWire.text(p.getKey(), out);
            NodeWire.text(p.getValue(), out);
        }
        out.writeInt(variables.size());
        for (String v : variables) {
            NodeWire.text(v, out);
        }
    }

    @Override
    public String source() {
        return source;
    }

    /** The trees a request takes along, and the numbers of their nodes. */
    private static final class Trees {
        private final List<List<Node>> trees = new ArrayList<>();
        private final Map<Node, int[]> places = new IdentityHashMap<>();

        int[] place(Node n) {
            int[] known = places.get(n);
            if (known != null) {
                return known;
            }
            List<Node> all = NodeWire.numbered(TreeViews.root(n));
            for (int i = 0; i < all.size(); i++) {
                places.put(all.get(i), new int[] {trees.size(), i});
            }
            trees.add(all);
            return places.get(n);
        }
    }

    private DataInputStream ask(byte what, Scope scope, Trees trees) throws EvaluationFailed, IOException {
        Node context = needsContext ? scope.context() : Node.leaf("none", "");
        int[] at = trees.place(context);
        List<List<int[]>> values = new ArrayList<>();
        for (String v : variables) {
            if (scope.variable(v) == null) {
                throw new EvaluationFailed("there is no $" + v + " here");
            }
            values.add(scope.variable(v).stream().map(trees::place).toList());
        }
        DataInputStream in = evaluators.ask(out -> {
            head(what, language, source, prefixes, variables, out);
            out.writeLong(scope.now().toEpochMilli());
            out.writeLong(source.contains("uuid") ? scope.draw() : 0);
            out.writeInt(trees.trees.size());
            for (List<Node> t : trees.trees) {
                NodeWire.write(t.get(0), out);
            }
            out.writeInt(at[0]);
            out.writeInt(at[1]);
            out.writeInt(values.size());
            for (int i = 0; i < values.size(); i++) {
                NodeWire.text(variables.get(i), out);
                out.writeInt(values.get(i).size());
                for (int[] place : values.get(i)) {
                    out.writeInt(place[0]);
                    out.writeInt(place[1]);
                }
            }
        });
        byte how = in.readByte();
        if (how != EvaluatorMain.GOOD) {
            throw new EvaluationFailed(NodeWire.text(in));
        }
        return in;
    }

    @Override
    public String string(Scope scope) throws EvaluationFailed {
        try {
            return NodeWire.text(ask(EvaluatorMain.STRING, scope, new Trees()));
        } catch (IOException e) {
            throw new UncheckedIOException("an answer in memory is damaged", e);
        }
    }

    @Override
    public boolean test(Scope scope) throws EvaluationFailed {
        try {
            return ask(EvaluatorMain.TEST, scope, new Trees()).readBoolean();
        } catch (IOException e) {
            throw new UncheckedIOException("an answer in memory is damaged", e);
        }
    }

    @Override
    public List<Node> nodes(Scope scope) throws EvaluationFailed {
        Trees trees = new Trees();
        try {
            DataInputStream in = ask(EvaluatorMain.NODES, scope, trees);
            List<List<Node>> foreign = new ArrayList<>();
            for (int n = in.readInt(); n > 0; n--) {
                foreign.add(NodeWire.numbered(NodeWire.read(in)));
            }
            List<Node> out = new ArrayList<>();
            for (int n = in.readInt(); n > 0; n--) {
                List<List<Node>> from = in.readByte() == EvaluatorMain.KNOWN ? trees.trees : foreign;
                out.add(from.get(in.readInt()).get(in.readInt()));
            }
            return out;
        } catch (IOException e) {
            throw new UncheckedIOException("an answer in memory is damaged", e);
        }
    }
}
