package org.wirekettle.contract;

import java.util.List;
import java.util.Optional;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.Operation.DeclaredFault;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.Shape;
import org.wirekettle.xml.XmlElement;

/** An operation with what declares it, as those see it who answer it. Immutable. */
public record ContractOperation(Contract contract, Port port, Operation operation) {
    /** The element in the body of a request; empty for an empty body. */
    public Optional<Shape> request() {
        return operation.request().root().children().stream()
                .filter(s -> s.role() != Shape.Role.HEADER)
                .findFirst();
    }

    /** What of the body's element does not fit its schema; empty when all does. @param text it, as XML */
    public List<Problem> check(String text) {
        if (request().isEmpty() || operation.use() == Use.ENCODED) {
            // References are resolved by now: it is no longer what the schema is of.
            return List.of();
        }
        return MessageCheck.checkBare(contract, operation.request(), XmlElement.parse("request", text), text);
    }

    public Optional<DeclaredFault> fault(String name) {
        return operation.faults().stream()
                .filter(f -> !f.isInHeader() && f.name().equals(name))
                .findFirst();
    }
}
