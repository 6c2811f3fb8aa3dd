package org.wirekettle.expression;

import java.io.StringReader;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import javax.xml.transform.stream.StreamSource;
import net.sf.saxon.expr.instruct.TerminationException;
import net.sf.saxon.lib.ErrorReporter;
import net.sf.saxon.om.NodeInfo;
import net.sf.saxon.s9api.Processor;
import net.sf.saxon.s9api.QName;
import net.sf.saxon.s9api.SaxonApiException;
import net.sf.saxon.s9api.UnprefixedElementMatchingPolicy;
import net.sf.saxon.s9api.XQueryCompiler;
import net.sf.saxon.s9api.XQueryEvaluator;
import net.sf.saxon.s9api.XQueryExecutable;
import net.sf.saxon.s9api.XdmItem;
import net.sf.saxon.s9api.XdmNode;
import net.sf.saxon.s9api.XdmNodeKind;
import net.sf.saxon.s9api.XdmValue;
import net.sf.saxon.s9api.XmlProcessingError;
import net.sf.saxon.s9api.Xslt30Transformer;
import net.sf.saxon.s9api.XsltCompiler;
import net.sf.saxon.s9api.XsltExecutable;
import net.sf.saxon.trans.XPathException;
import net.sf.saxon.value.DateTimeValue;
import org.wirekettle.record.Node;

/**
 * Stylesheets and queries over the trees of a record (XSLT 3.0, XQuery 3.1). They reach neither files nor the network,
 * and write nothing beside their result; time and memory are limited by where this runs.
 */
final class TransformEngine {
    private static final Pattern PROLOG = Pattern.compile("\\b(declare|import|xquery\\s+version|module)\\b");

    private final Processor processor;

    TransformEngine(FullEngine engine) {
        this.processor = engine.processor();
    }

    /** What a compiled text does with the record: the items it gives. */
    private interface Run {
        XdmValue of(XdmItem context, Map<QName, XdmValue> variables, DateTimeValue now)
                throws SaxonApiException, XPathException;
    }

    FullProgram compile(Language language, String source, Set<String> names) throws ExpressionFault {
        List<String> variables = names.stream().filter(n -> isNamed(n, source)).toList();
        Run run = language == Language.XSLT ? stylesheet(source) : query(source, variables);
        return new Transform(source, processor, run, variables);
    }

    /** Whether a text has the name as a word of its own. */
    static boolean isNamed(String name, String source) {
        for (int at = source.indexOf(name); at >= 0; at = source.indexOf(name, at + 1)) {
            int end = at + name.length();
            boolean begins = at > 0 && (source.charAt(at - 1) == '$' || "'\"".indexOf(source.charAt(at - 1)) >= 0);
            if (begins && (end == source.length() || !isPart(source.charAt(end)))) {
                return true;
            }
        }
        return false;
    }

    private static boolean isPart(char c) {
        return Character.isLetterOrDigit(c) || c == '-' || c == '_' || c == '.';
    }

    private Run stylesheet(String source) throws ExpressionFault {
        XsltCompiler compiler = processor.newXsltCompiler();
        List<XmlProcessingError> errors = new ArrayList<>();
        compiler.setErrorReporter(reporting(errors));
        compiler.setUnprefixedElementMatchingPolicy(UnprefixedElementMatchingPolicy.ANY_NAMESPACE);
        try {
            XsltExecutable executable = compiler.compile(new StreamSource(new StringReader(source)));
            return (context, variables, now) -> {
                Xslt30Transformer t = executable.load30();
                t.setErrorReporter(e -> {});
                t.setMessageHandler(m -> {});
                t.setResultDocumentHandler(uri -> {
                    throw new IllegalStateException("a stylesheet writes no further documents here: " + uri);
                });
                t.getUnderlyingController().setCurrentDateTime(now);
                t.setStylesheetParameters(variables);
                t.setGlobalContextItem(context, true);
                return t.applyTemplates(context);
            };
        } catch (SaxonApiException e) {
            throw fault(source, 0, errors, e);
        } catch (StackOverflowError e) {
            throw new ExpressionFault("The stylesheet is nested too deeply.", -1);
        }
    }

    private Run query(String source, List<String> variables) throws ExpressionFault {
        XQueryCompiler compiler = processor.newXQueryCompiler();
        List<XmlProcessingError> errors = new ArrayList<>();
        compiler.setErrorReporter(reporting(errors));
        compiler.setUnprefixedElementMatchingPolicy(UnprefixedElementMatchingPolicy.ANY_NAMESPACE);
        compiler.setModuleURIResolver((module, base, locations) -> {
            throw new XPathException("reading modules is not allowed");
        });
        // On the first line, so that lines are counted as they were written.
        StringBuilder declared = new StringBuilder();
        if (!PROLOG.matcher(source).find()) {
            variables.forEach(
                    v -> declared.append("declare variable $").append(v).append(" external; "));
        }
        try {
            compiler.declareNamespace("wk", Functions.NAMESPACE);
            XQueryExecutable executable = compiler.compile(declared + source);
            return (context, given, now) -> {
                XQueryEvaluator e = executable.load();
                e.setErrorReporter(x -> {});
                e.setContextItem(context);
                e.getUnderlyingQueryContext().setCurrentDateTime(now);
                given.forEach(e::setExternalVariable);
                return e.evaluate();
            };
        } catch (SaxonApiException e) {
            throw fault(source, declared.length(), errors, e);
        } catch (StackOverflowError e) {
            throw new ExpressionFault("The query is nested too deeply.", -1);
        }
    }

    private static ErrorReporter reporting(List<XmlProcessingError> into) {
        return e -> {
            if (!e.isWarning()) {
                into.add(e);
            }
        };
    }

    /** @param before characters put before the first line */
    private static ExpressionFault fault(String source, int before, List<XmlProcessingError> errors, Exception e) {
        if (errors.isEmpty()) {
            return new ExpressionFault(words(e.getMessage()), -1);
        }
        XmlProcessingError first = errors.get(0);
        int line = first.getLocation() == null ? -1 : first.getLocation().getLineNumber();
        int column = first.getLocation() == null ? -1 : first.getLocation().getColumnNumber();
        if (line == 1) {
            column = Math.max(1, column - before);
        }
        String where = line <= 0 ? "" : "line " + line + (column <= 0 ? "" : ", column " + column) + ": ";
        return new ExpressionFault(where + words(first.getMessage()), offset(source, line, column));
    }

    private static int offset(String source, int line, int column) {
        int at = 0;
        for (int l = 1; l < line && at >= 0; l++) {
            int end = source.indexOf('\n', at);
            at = end < 0 ? -1 : end + 1;
        }
        return line <= 0 || at < 0 ? -1 : Math.min(source.length(), at + Math.max(0, column - 1));
    }

    private static String words(String message) {
        return String.valueOf(message).replaceAll("\\s+", " ").strip();
    }

    /** A compiled stylesheet or query. Immutable; any thread may use it. */
    private record Transform(String source, Processor processor, Run run, List<String> variables)
            implements FullProgram {
        @Override
        public boolean needsContext() {
            return true;
        }

        @Override
        public List<Node> nodes(Scope scope) throws EvaluationFailed {
            try {
                XdmNode context = scope.views().view(processor, scope.context());
                Map<QName, XdmValue> given = new HashMap<>();
                for (String v : variables) {
                    List<Node> value = scope.variable(v);
                    if (value != null) {
                        given.put(
                                new QName(v),
                                new XdmValue(value.stream()
                                        .map(n -> (XdmItem) scope.views().view(processor, n))
                                        .toList()));
                    }
                }
                FullExpression.evaluating(scope);
                return trees(run.of(context, given, DateTimeValue.fromJavaInstant(scope.now())));
            } catch (SaxonApiException e) {
                throw new EvaluationFailed(failed(e));
            } catch (XPathException e) {
                throw new EvaluationFailed(words(e.getMessage()));
            } catch (StackOverflowError e) {
                throw new EvaluationFailed("it goes too deep: a template or function calls itself without end");
            } catch (RuntimeException e) {
                throw new EvaluationFailed(words(e.getMessage() == null ? e.toString() : e.getMessage()));
            } finally {
                FullExpression.evaluating(null);
            }
        }

        private static String failed(SaxonApiException e) {
            String text = words(e.getMessage());
            if (e.getCause() instanceof TerminationException) {
                return "it ended itself by xsl:message: " + text;
            }
            return e.getLineNumber() > 0 ? "line " + e.getLineNumber() + ": " + text : text;
        }

        private static List<Node> trees(XdmValue value) throws EvaluationFailed {
            List<Node> out = new ArrayList<>();
            Map<NodeInfo, Node> known = new HashMap<>();
            for (XdmItem item : value) {
                if (item instanceof XdmNode n && n.getNodeKind() == XdmNodeKind.DOCUMENT) {
                    for (XdmNode child : n.children()) {
                        add(child, known, out);
                    }
                } else {
                    add(item, known, out);
                }
            }
            return out;
        }

        private static void add(XdmItem item, Map<NodeInfo, Node> known, List<Node> out) throws EvaluationFailed {
            if (out.size() >= EvaluationLimits.MAX_ITEMS) {
                throw new EvaluationFailed("it gives more than " + EvaluationLimits.MAX_ITEMS + " items");
            }
            if (!(item instanceof XdmNode n)) {
                out.add(ItemTrees.of(item));
            } else if (n.getNodeKind() != XdmNodeKind.TEXT
                    || !n.getStringValue().isBlank()) {
                out.add(ItemTrees.of(n, known));
            }
        }

        @Override
        public String string(Scope scope) throws EvaluationFailed {
            List<Node> found = nodes(scope);
            return found.isEmpty()
                    ? null
                    : String.join(" ", found.stream().map(Node::string).toList());
        }
    }
}
