package org.wirekettle.expression;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import net.sf.saxon.Configuration;
import net.sf.saxon.functions.FunctionLibrary;
import net.sf.saxon.functions.FunctionLibraryList;
import net.sf.saxon.lib.EnvironmentVariableResolver;
import net.sf.saxon.lib.ErrorReporter;
import net.sf.saxon.lib.Feature;
import net.sf.saxon.om.FunctionItem;
import net.sf.saxon.om.StructuredQName;
import net.sf.saxon.s9api.ItemType;
import net.sf.saxon.s9api.OccurrenceIndicator;
import net.sf.saxon.s9api.Processor;
import net.sf.saxon.s9api.QName;
import net.sf.saxon.s9api.SaxonApiException;
import net.sf.saxon.s9api.UnprefixedElementMatchingPolicy;
import net.sf.saxon.s9api.XPathCompiler;
import net.sf.saxon.sxpath.IndependentContext;
import net.sf.saxon.trans.SymbolicName;
import net.sf.saxon.trans.XPathException;
import org.wirekettle.xml.XmlNames;

/**
 * All of XPath 3.1, by Saxon. Expressions reach no files, no network and no environment, and cannot run stylesheets;
 * time and memory are limited by where this runs. Shareable; one for a process, since Saxon's names live in it.
 */
final class FullEngine {
    /** Steps a regular expression may go back in one match. */
    private static final int MAX_BACKTRACKING = 2_000_000;

    private static final Set<String> REFUSED = Set.of(
            "transform",
            "load-xquery-module",
            "collection",
            "uri-collection",
            "doc",
            "doc-available",
            "unparsed-text",
            "unparsed-text-lines",
            "unparsed-text-available",
            "environment-variable",
            "available-environment-variables");
    private static final Pattern UNDECLARED =
            Pattern.compile("Undeclared variable in XPath expression: (\\$[^\\s,;]+)");
    private static final Pattern NEAR = Pattern.compile("near \\{?[.…]*(.*?)[.…]*\\}?(?: at char (\\d+).*)?:");

    private static final ErrorReporter NO_REPORTS = error -> {
        // said by the exception
    };

    private final Processor processor = new Processor(false);

    FullEngine() {
        Configuration c = processor.getUnderlyingConfiguration();
        processor.setConfigurationProperty(Feature.ALLOW_EXTERNAL_FUNCTIONS, false);
        processor.setConfigurationProperty(Feature.REGEX_BACKTRACKING_LIMIT, MAX_BACKTRACKING);
        c.setParseOptions(
                c.getParseOptions().withParserFeature("http://apache.org/xml/features/disallow-doctype-decl", true));
        c.setUnparsedTextURIResolver((uri, encoding, config) -> {
            throw new XPathException("reading files is not allowed in expressions");
        });
        c.setCollectionFinder((context, uri) -> {
            throw new XPathException("reading collections is not allowed in expressions");
        });
        c.setResourceResolver(request -> {
            throw new XPathException("reading documents is not allowed in expressions");
        });
        c.setConfigurationProperty(Feature.ENVIRONMENT_VARIABLE_RESOLVER, new EnvironmentVariableResolver() {
            @Override
            public Set<String> getAvailableEnvironmentVariables() {
                return Set.of();
            }

            @Override
            public String getEnvironmentVariable(String name) {
                return null;
            }
        });
        // What goes wrong is thrown; a reporter of its own for each evaluation costs more than most of them.
        c.setErrorReporterFactory(config -> NO_REPORTS);
        Functions.all().forEach(f -> c.registerExtensionFunction(new SaxonFunction(f)));
    }

    Processor processor() {
        return processor;
    }

    /** @throws ExpressionFault when it is no XPath 3.1 or names something unknown, with the place */
    FullExpression compile(String source, Map<String, String> prefixes, Set<String> names) throws ExpressionFault {
        XPathCompiler compiler = processor.newXPathCompiler();
        compiler.setLanguageVersion("3.1");
        compiler.setUnprefixedElementMatchingPolicy(UnprefixedElementMatchingPolicy.ANY_NAMESPACE);
        compiler.declareNamespace("wk", Functions.NAMESPACE);
        compiler.declareNamespace("map", "http://www.w3.org/2005/xpath-functions/map");
        compiler.declareNamespace("array", "http://www.w3.org/2005/xpath-functions/array");
        compiler.declareNamespace("math", "http://www.w3.org/2005/xpath-functions/math");
        compiler.declareNamespace("xsi", "http://www.w3.org/2001/XMLSchema-instance");
        prefixes.forEach((prefix, namespace) -> {
            if (!prefix.isEmpty() && !prefix.equals("xml") && !prefix.equals("wk")) {
                compiler.declareNamespace(prefix, namespace);
            }
        });
        List<String> variables = variables(source, names);
        variables.forEach(
                v -> compiler.declareVariable(new QName(v), ItemType.ANY_ITEM, OccurrenceIndicator.ZERO_OR_MORE));
        IndependentContext context = (IndependentContext) compiler.getUnderlyingStaticContext();
        FunctionLibraryList allowed = new FunctionLibraryList();
        allowed.addFunctionLibrary(new Allowed(context.getFunctionLibrary()));
        context.setFunctionLibrary(allowed);
        try {
            return new FullExpression(source, processor, compiler.compile(source), variables);
        } catch (SaxonApiException e) {
            throw fault(source, names, e);
        } catch (StackOverflowError e) {
            throw new ExpressionFault("The expression is nested too deeply.", -1);
        }
    }

    /** Which of the variables there are a text names outside its literals. */
    static List<String> variables(String source, Set<String> names) {
        List<String> out = new ArrayList<>();
        char quote = 0;
        for (int i = 0; i < source.length(); i++) {
            char c = source.charAt(i);
            if (quote != 0) {
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else if (c == '$') {
                String name = source.substring(i + 1, XmlNames.end(source, i + 1));
                if (names.contains(name) && !out.contains(name)) {
                    out.add(name);
                }
            }
        }
        return out;
    }

    private static ExpressionFault fault(String source, Set<String> names, SaxonApiException e) {
        String message = String.valueOf(e.getMessage());
        int offset = -1;
        if (e.getCause() instanceof XPathException x
                && x.getLocator() != null
                && x.getLocator().getColumnNumber() > 0) {
            offset = Math.min(source.length(), x.getLocator().getColumnNumber() - 1);
        }
        Matcher near = NEAR.matcher(message);
        if (offset < 0 && near.find() && near.group(2) != null) {
            offset = Integer.parseInt(near.group(2));
        }
        Matcher unknown = UNDECLARED.matcher(message);
        return unknown.find()
                ? new ExpressionFault(
                        "There is no " + unknown.group(1) + " here. There is $" + String.join(", $", names) + ".",
                        source.indexOf(unknown.group(1)))
                : new ExpressionFault(message.replaceAll("\\s+", " "), offset);
    }

    /** The functions there are, without those that run or reach something else. */
    private record Allowed(FunctionLibrary all) implements FunctionLibrary {
        private static boolean isRefused(SymbolicName.F name) {
            return REFUSED.contains(name.getComponentName().getLocalPart())
                    && name.getComponentName().getNamespaceUri().toString().endsWith("/xpath-functions");
        }

        @Override
        public boolean isAvailable(SymbolicName.F name, int level) {
            return !isRefused(name) && all.isAvailable(name, level);
        }

        @Override
        public net.sf.saxon.expr.Expression bind(
                SymbolicName.F name,
                net.sf.saxon.expr.Expression[] arguments,
                Map<StructuredQName, Integer> keywords,
                net.sf.saxon.expr.StaticContext env,
                List<String> reasons)
                throws XPathException {
            if (isRefused(name)) {
                throw new XPathException(
                        "The function " + name.getComponentName().getLocalPart() + " is not allowed in expressions.");
            }
            return all.bind(name, arguments, keywords, env, reasons);
        }

        @Override
        public FunctionLibrary copy() {
            return new Allowed(all.copy());
        }

        @Override
        public FunctionItem getFunctionItem(SymbolicName.F name, net.sf.saxon.expr.StaticContext context)
                throws XPathException {
            return isRefused(name) ? null : all.getFunctionItem(name, context);
        }
    }
}
