package org.wirekettle.expression;

import java.util.Arrays;
import net.sf.saxon.expr.StaticProperty;
import net.sf.saxon.expr.XPathContext;
import net.sf.saxon.lib.ExtensionFunctionCall;
import net.sf.saxon.lib.ExtensionFunctionDefinition;
import net.sf.saxon.om.GroundedValue;
import net.sf.saxon.om.Item;
import net.sf.saxon.om.NamespaceUri;
import net.sf.saxon.om.Sequence;
import net.sf.saxon.om.StructuredQName;
import net.sf.saxon.s9api.ItemType;
import net.sf.saxon.s9api.SaxonApiException;
import net.sf.saxon.s9api.XdmAtomicValue;
import net.sf.saxon.trans.XPathException;
import net.sf.saxon.type.BuiltInAtomicType;
import net.sf.saxon.value.EmptySequence;
import net.sf.saxon.value.SequenceType;

/** Makes one of our functions known to Saxon, with its arguments' and result's types. */
final class SaxonFunction extends ExtensionFunctionDefinition {
    private final Functions.Function function;

    SaxonFunction(Functions.Function function) {
        this.function = function;
    }

    @Override
    public StructuredQName getFunctionQName() {
        return new StructuredQName("wk", NamespaceUri.of(Functions.NAMESPACE), function.name());
    }

    @Override
    public int getMinimumNumberOfArguments() {
        return function.least();
    }

    @Override
    public int getMaximumNumberOfArguments() {
        return function.most();
    }

    @Override
    public SequenceType[] getArgumentTypes() {
        SequenceType[] out = new SequenceType[Math.max(1, function.most())];
        Arrays.fill(out, SequenceType.OPTIONAL_ATOMIC);
        return out;
    }

    @Override
    public SequenceType getResultType(SequenceType[] supplied) {
        return switch (function.result()) {
            case STRING -> SequenceType.OPTIONAL_STRING;
            case DECIMAL -> SequenceType.OPTIONAL_DECIMAL;
            case DATE -> SequenceType.makeSequenceType(BuiltInAtomicType.DATE, StaticProperty.ALLOWS_ZERO_OR_ONE);
            case DATE_TIME ->
                SequenceType.makeSequenceType(BuiltInAtomicType.DATE_TIME, StaticProperty.ALLOWS_ZERO_OR_ONE);
        };
    }

    /** A new UUID is another one each time: it must be neither computed ahead nor taken out of a loop. */
    @Override
    public boolean hasSideEffects() {
        return function.isRandom();
    }

    @Override
    public ExtensionFunctionCall makeCallExpression() {
        return new ExtensionFunctionCall() {
            @Override
            public Sequence call(XPathContext context, Sequence[] arguments) throws XPathException {
                String[] values = new String[arguments.length];
                for (int i = 0; i < values.length; i++) {
                    Item item = arguments[i].head();
                    values[i] = item == null ? null : item.getStringValue();
                }
                try {
                    Scope scope = FullExpression.evaluated();
                    String result = function.isRandom() && scope != null ? scope.uuid() : function.apply(values);
                    return result == null ? EmptySequence.getInstance() : value(result);
                } catch (EvaluationFailed e) {
                    throw new XPathException(e.getMessage());
                }
            }
        };
    }

    private GroundedValue value(String s) throws XPathException {
        try {
            return switch (function.result()) {
                case STRING -> new XdmAtomicValue(s).getUnderlyingValue();
                case DECIMAL -> new XdmAtomicValue(s, ItemType.DECIMAL).getUnderlyingValue();
                case DATE -> new XdmAtomicValue(s, ItemType.DATE).getUnderlyingValue();
                case DATE_TIME -> new XdmAtomicValue(s, ItemType.DATE_TIME).getUnderlyingValue();
            };
        } catch (SaxonApiException e) {
            throw new XPathException(e.getMessage());
        }
    }
}
