package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import net.sf.saxon.Controller;
import net.sf.saxon.expr.parser.ExpressionTool;
import net.sf.saxon.om.NodeInfo;
import net.sf.saxon.s9api.Processor;
import net.sf.saxon.s9api.QName;
import net.sf.saxon.s9api.SaxonApiException;
import net.sf.saxon.s9api.XPathExecutable;
import net.sf.saxon.s9api.XPathSelector;
import net.sf.saxon.s9api.XdmArray;
import net.sf.saxon.s9api.XdmFunctionItem;
import net.sf.saxon.s9api.XdmItem;
import net.sf.saxon.s9api.XdmMap;
import net.sf.saxon.s9api.XdmNode;
import net.sf.saxon.s9api.XdmValue;
import net.sf.saxon.trans.XPathException;
import org.wirekettle.record.Node;

/** An expression evaluated by Saxon in this process. Immutable; any thread may use it. */
final class FullExpression implements FullProgram {
    private final String source;
    private final Processor processor;
    private final XPathExecutable executable;
    private final boolean needsContext;
    private final List<String> variables;
    private final boolean isRandom;
    /** Of the random expression that this thread evaluates. */
    private static final ThreadLocal<Scope> EVALUATED = new ThreadLocal<>();

    FullExpression(String source, Processor processor, XPathExecutable executable, List<String> variables) {
        this.source = source;
        this.processor = processor;
        this.executable = executable;
        this.variables = variables;
        this.isRandom = source.contains("uuid");
        // Showing a tree to Saxon costs more than most expressions: only what is looked at is shown.
        this.needsContext = ExpressionTool.dependsOnFocus(
                        executable.getUnderlyingExpression().getInternalExpression())
                || source.contains("..");
    }

    @Override
    public String source() {
        return source;
    }

    @Override
    public boolean needsContext() {
        return needsContext;
    }

    private XPathSelector selector(Scope scope) throws SaxonApiException, EvaluationFailed, XPathException {
        XPathSelector s = executable.load();
        if (needsContext) {
            s.setContextItem(scope.views().view(processor, scope.context()));
        }
        for (String v : variables) {
            List<Node> value = scope.variable(v);
            if (value == null) {
                throw new EvaluationFailed("there is no $" + v + " here");
            }
            s.setVariable(new QName(v), views(scope, value));
        }
        Controller c = s.getUnderlyingXPathContext().getXPathContextObject().getController();
        c.setCurrentDateTime(scope.views().time(scope));
        return s;
    }

    private XdmValue views(Scope scope, List<Node> nodes) {
        return nodes.size() == 1
                ? scope.views().view(processor, nodes.get(0))
                : new XdmValue(nodes.stream()
                        .map(n -> (XdmItem) scope.views().view(processor, n))
                        .toList());
    }

    /** @param scope that random values are drawn from in this thread from now on; null for none */
    static void evaluating(Scope scope) {
        if (scope == null) {
            EVALUATED.remove();
        } else {
            EVALUATED.set(scope);
        }
    }

    /** Null unless a random expression is being evaluated. */
    static Scope evaluated() {
        return EVALUATED.get();
    }

    /** What an evaluation does with its items. */
    private interface Use<T> {
        T of(XPathSelector s) throws SaxonApiException, EvaluationFailed;
    }

    private <T> T evaluate(Scope scope, Use<T> use) throws EvaluationFailed {
        try {
            if (isRandom) {
                evaluating(scope);
            }
            return use.of(selector(scope));
        } catch (SaxonApiException | XPathException e) {
            throw failed(e.getMessage());
        } catch (StackOverflowError e) {
            throw new EvaluationFailed(
                    "it goes too deep: a function calls itself without end, or the values are nested too deeply");
        } catch (RuntimeException e) {
            // Saxon's lazy values raise their errors unchecked, wherever they are first looked at.
            throw failed(e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage());
        } finally {
            if (isRandom) {
                evaluating(null);
            }
        }
    }

    private static EvaluationFailed failed(String message) {
        return new EvaluationFailed(
                String.valueOf(message).replaceAll("\\s+", " ").replaceFirst("^net\\.sf\\.saxon\\.\\S+: ", ""));
    }

    @Override
    public String string(Scope scope) throws EvaluationFailed {
        return evaluate(scope, s -> {
            StringBuilder out = null;
            int items = 0;
            for (XdmItem item : s) {
                if (item instanceof XdmFunctionItem f) {
                    throw new EvaluationFailed(noText(f));
                }
                out = out == null ? new StringBuilder() : out.append(' ');
                out.append(item.getStringValue());
                if (++items > EvaluationLimits.MAX_ITEMS || out.length() > EvaluationLimits.MAX_CHARS) {
                    throw tooMuch();
                }
            }
            return out == null ? null : out.toString();
        });
    }

    private static EvaluationFailed tooMuch() {
        return new EvaluationFailed("it gives more than " + EvaluationLimits.MAX_ITEMS + " items or "
                + EvaluationLimits.MAX_CHARS + " characters");
    }

    private static String noText(XdmFunctionItem f) {
        if (f instanceof XdmMap m) {
            List<String> keys = m.keySet().stream()
                    .map(k -> k.getStringValue())
                    .sorted()
                    .limit(6)
                    .toList();
            return "it is a map and has no text itself; take one of its entries"
                    + (keys.isEmpty() ? "" : ", such as ?" + String.join(", ?", keys));
        }
        return f instanceof XdmArray a
                ? "it is an array of " + a.arrayLength()
                        + " members and has no text itself; take one of them, such as ?1, or all by ?*"
                : "it is a function; call it with its arguments in parentheses";
    }

    @Override
    public List<Node> nodes(Scope scope) throws EvaluationFailed {
        return evaluate(scope, s -> {
            List<Node> out = new ArrayList<>();
            Map<NodeInfo, Node> foreign = new HashMap<>();
            for (XdmItem item : s) {
                Node known = item instanceof XdmNode n ? scope.views().node(n) : null;
                out.add(
                        known != null
                                ? known
                                : item instanceof XdmNode n ? ItemTrees.of(n, foreign) : ItemTrees.of(item));
                if (out.size() > EvaluationLimits.MAX_ITEMS) {
                    throw tooMuch();
                }
            }
            return out;
        });
    }

    @Override
    public boolean test(Scope scope) throws EvaluationFailed {
        return evaluate(scope, XPathSelector::effectiveBooleanValue);
    }
}
