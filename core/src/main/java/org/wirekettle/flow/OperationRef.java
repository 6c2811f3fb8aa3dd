package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonInclude;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Contract.Port;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.Shape;

/**
 * An operation of a contract that a flow answers.
 *
 * @param version of the contract; null for the current one
 * @param port null for the contract's first
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record OperationRef(
        String contract,
        @Nullable Integer version,
        @Nullable String port,
        String operation) {
    public OperationRef {
        if (contract == null || operation == null) {
            throw new IllegalArgumentException("an operation that is answered has a contract and a name");
        }
    }

    /** Made for another version of its contract. */
    public OperationRef withVersion(Integer of) {
        return new OperationRef(contract, of, port, operation);
    }

    /** @throws Refused in words, when there is none, or none that a flow can answer */
    ContractOperation find(Project project) {
        Contract found = project.contract(contract, version)
                .orElseThrow(() -> refused("There is no contract named " + contract
                        + (version == null ? "." : " with a version " + version + ".")));
        Port at =
                found.port(port).orElseThrow(() -> refused("The contract " + contract + " has no port " + port + "."));
        Operation o = at.operation(operation)
                .orElseThrow(() -> refused("The contract " + contract + " has no operation " + operation + "."));
        if (!o.isUsable()) {
            throw refused("The operation " + operation + " cannot be answered: " + o.unusable());
        }
        if (o.http() != null) {
            throw refused("The operation " + operation + " is one of plain HTTP: give the flow inputs of its own.");
        }
        long parts = o.request().root().children().stream()
                .filter(s -> s.role() != Shape.Role.HEADER)
                .count();
        if (parts > 1) {
            throw refused("The request of " + operation + " has " + parts
                    + " elements in its body; a flow can answer those with one.");
        }
        return new ContractOperation(found, at, o);
    }

    private static Refused refused(String text) {
        return new Refused("receive.operation", null, text);
    }
}
