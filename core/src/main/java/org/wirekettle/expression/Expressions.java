package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import net.sf.saxon.s9api.ExtensionFunction;
import net.sf.saxon.s9api.ItemType;
import net.sf.saxon.s9api.OccurrenceIndicator;
import net.sf.saxon.s9api.Processor;
import net.sf.saxon.s9api.QName;
import net.sf.saxon.s9api.SaxonApiException;
import net.sf.saxon.s9api.SequenceType;
import net.sf.saxon.s9api.UnprefixedElementMatchingPolicy;
import net.sf.saxon.s9api.XPathCompiler;
import net.sf.saxon.s9api.XPathExecutable;
import net.sf.saxon.s9api.XPathSelector;
import net.sf.saxon.s9api.XdmAtomicValue;
import net.sf.saxon.s9api.XdmEmptySequence;
import net.sf.saxon.s9api.XdmItem;
import net.sf.saxon.s9api.XdmNode;
import net.sf.saxon.s9api.XdmValue;
import net.sf.saxon.expr.parser.ExpressionTool;
import net.sf.saxon.lib.Feature;
import org.wirekettle.record.Node;

/**
 * Compiles XPath 3.1. A name without prefix matches in any namespace; the prefix {@code wk} is our function library.
 * Shareable; one for the whole application, since Saxon's names live in it.
 */
public final class Expressions {
    /** Characters of one expression. */
    public static final int MAX_CHARS = 20_000;
    static final List<String> VARIABLES = List.of("record", "reply", "run", "input", "flow");

    private final Processor processor = new Processor(false);
    private final Map<String, String> prefixes;

    public Expressions() {
        this(Map.of());
    }

    /** @param prefixes further prefixes to namespaces, for strict matching */
    public Expressions(Map<String, String> prefixes) {
        this.prefixes = prefixes;
        processor.setConfigurationProperty(Feature.ALLOW_EXTERNAL_FUNCTIONS, false);
        processor.getUnderlyingConfiguration().setBooleanProperty(Feature.TRACE_EXTERNAL_FUNCTIONS, false);
        processor.getUnderlyingConfiguration().setUnparsedTextURIResolver((uri, encoding, config) -> {
            throw new net.sf.saxon.trans.XPathException("reading files is not allowed in expressions");
        });
        processor.getUnderlyingConfiguration().setCollectionFinder((context, uri) -> {
            throw new net.sf.saxon.trans.XPathException("reading collections is not allowed in expressions");
        });
        processor.getUnderlyingConfiguration().setConfigurationProperty(Feature.ENVIRONMENT_VARIABLE_RESOLVER, new net.sf.saxon.lib.EnvironmentVariableResolver() {
            @Override
            public java.util.Set<String> getAvailableEnvironmentVariables() {
                return java.util.Set.of();
            }

            @Override
            public String getEnvironmentVariable(String name) {
                return null;
            }
        });
        processor.getUnderlyingConfiguration().setResourceResolver(request -> {
            throw new net.sf.saxon.trans.XPathException("reading documents is not allowed in expressions");
        });
        Functions.all().forEach(f -> processor.registerExtensionFunction(new Extension(f)));
    }

    /** @throws ExpressionFault when it is no XPath 3.1 or names something unknown, with the place */
    public Expression compile(String source) throws ExpressionFault {
        return compile(source, Map.of());
    }

    /** Likewise, knowing further prefixes, such as those of the message it looks at. */
    public Expression compile(String source, Map<String, String> morePrefixes) throws ExpressionFault {
        if (source.length() > MAX_CHARS) {
            throw new ExpressionFault("The expression has " + source.length() + " characters; the limit is " + MAX_CHARS + ".", -1);
        }
        Optional<Expression> plain = PlainExpression.compile(source);
        if (plain.isPresent()) {
            return plain.get();
        }
        XPathCompiler compiler = processor.newXPathCompiler();
        compiler.setLanguageVersion("3.1");
        compiler.setUnprefixedElementMatchingPolicy(UnprefixedElementMatchingPolicy.ANY_NAMESPACE);
        compiler.declareNamespace("wk", Functions.NAMESPACE);
        compiler.declareNamespace("map", "http://www.w3.org/2005/xpath-functions/map");
        compiler.declareNamespace("array", "http://www.w3.org/2005/xpath-functions/array");
        compiler.declareNamespace("math", "http://www.w3.org/2005/xpath-functions/math");
        prefixes.forEach(compiler::declareNamespace);
        morePrefixes.forEach((prefix, namespace) -> {
            if (!prefix.isEmpty() && !prefix.startsWith("xml")) {
                compiler.declareNamespace(prefix, namespace);
            }
        });
        // Saxon wants a value for every variable declared, so only those named are.
        VARIABLES.stream().filter(v -> source.contains("$" + v)).forEach(v -> compiler.declareVariable(new QName(v), ItemType.ANY_ITEM, OccurrenceIndicator.ZERO_OR_MORE));
        try {
            return new Engine(source, compiler.compile(source));
        } catch (SaxonApiException e) {
            throw fault(source, e);
        }
    }

    private static ExpressionFault fault(String source, SaxonApiException e) {
        String message = String.valueOf(e.getMessage());
        int offset = -1;
        if (e.getCause() instanceof net.sf.saxon.trans.XPathException x && x.getLocator() != null && x.getLocator().getColumnNumber() > 0) {
            offset = Math.min(source.length(), x.getLocator().getColumnNumber() - 1);
        }
        java.util.regex.Matcher near = java.util.regex.Pattern.compile("near \\{?[.…]*(.*?)[.…]*\\}?(?: at char (\\d+).*)?:").matcher(message);
        if (offset < 0 && near.find() && near.group(2) != null) {
            offset = Integer.parseInt(near.group(2));
        }
        return new ExpressionFault(message.replaceAll("\\s+", " "), offset);
    }

    private final class Engine implements Expression {
        private final String source;
        private final XPathExecutable executable;

        private final boolean needsContext;
        private final List<String> needed;

        Engine(String source, XPathExecutable executable) {
            this.source = source;
            this.executable = executable;
            // Showing a tree to Saxon costs more than most expressions: only what is looked at is shown.
            this.needsContext = ExpressionTool.dependsOnFocus(executable.getUnderlyingExpression().getInternalExpression()) || source.contains("..");
            this.needed = VARIABLES.stream().filter(v -> source.contains("$" + v)).toList();
        }

        @Override
        public String source() {
            return source;
        }

        private XPathSelector selector(Scope scope) throws SaxonApiException {
            XPathSelector s = executable.load();
            if (needsContext) {
                s.setContextItem(scope.views().view(processor, scope.context()));
            }
            for (String v : needed) {
                Node value = scope.variable(v);
                s.setVariable(new QName(v), value == null ? XdmEmptySequence.getInstance() : scope.views().view(processor, value));
            }
            return s;
        }

        @Override
        public String string(Scope scope) throws EvaluationFailed {
            try {
                XdmValue value = selector(scope).evaluate();
                if (value.size() == 0) {
                    return null;
                }
                StringBuilder out = new StringBuilder();
                for (XdmItem item : value) {
                    out.append(out.length() == 0 ? "" : " ").append(item.getStringValue());
                }
                return out.toString();
            } catch (SaxonApiException | UnsupportedOperationException e) {
                throw failed(e);
            }
        }

        @Override
        public List<Node> nodes(Scope scope) throws EvaluationFailed {
            try {
                List<Node> out = new ArrayList<>();
                for (XdmItem item : selector(scope).evaluate()) {
                    Node known = item instanceof XdmNode n ? scope.views().node(n) : null;
                    out.add(known != null ? known : Node.leaf("item", item.getStringValue()));
                }
                return out;
            } catch (SaxonApiException | UnsupportedOperationException e) {
                throw failed(e);
            }
        }

        @Override
        public boolean test(Scope scope) throws EvaluationFailed {
            try {
                return selector(scope).effectiveBooleanValue();
            } catch (SaxonApiException e) {
                throw failed(e);
            }
        }

        private EvaluationFailed failed(Exception e) {
            return new EvaluationFailed(String.valueOf(e.getMessage()).replaceAll("\\s+", " "));
        }
    }

    /** Makes one of our functions known to Saxon. */
    private record Extension(Functions.Function function) implements ExtensionFunction {
        @Override
        public QName getName() {
            return new QName(Functions.NAMESPACE, function.name());
        }

        @Override
        public SequenceType getResultType() {
            return SequenceType.makeSequenceType(ItemType.STRING, OccurrenceIndicator.ZERO_OR_ONE);
        }

        @Override
        public SequenceType[] getArgumentTypes() {
            SequenceType[] out = new SequenceType[function.most()];
            java.util.Arrays.fill(out, SequenceType.makeSequenceType(ItemType.ANY_ATOMIC_VALUE, OccurrenceIndicator.ZERO_OR_ONE));
            return out;
        }

        @Override
        public XdmValue call(XdmValue[] arguments) throws SaxonApiException {
            String[] values = new String[arguments.length];
            for (int i = 0; i < values.length; i++) {
                values[i] = arguments[i].size() == 0 ? null : arguments[i].itemAt(0).getStringValue();
            }
            try {
                String result = function.apply(values);
                return result == null ? XdmEmptySequence.getInstance() : new XdmAtomicValue(result);
            } catch (EvaluationFailed e) {
                throw new SaxonApiException(e.getMessage());
            }
        }
    }
}
