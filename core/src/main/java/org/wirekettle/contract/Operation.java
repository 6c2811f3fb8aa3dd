package org.wirekettle.contract;

import java.util.List;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.Shape;

/**
 * One operation as a binding offers it (WSDL 1.1 §2.4, §2.5, §3.4). Immutable.
 *
 * @param name its name; overloads are told apart as {@code name#2}
 * @param action the SOAPAction; empty when declared empty or absent
 * @param request null when it cannot be formed
 * @param answer null for one-way operations
 * @param unusable why it cannot be called, or null
 */
public record Operation(String name, String documentation, Style style, Use use, Direction direction, String action, Message request, Message answer,
        List<DeclaredFault> faults, String unusable) {

    /** WSDL 1.1 §3.3. */
    public enum Style { DOCUMENT, RPC }

    /** WSDL 1.1 §3.5. */
    public enum Use { LITERAL, ENCODED }

    /** WSDL 1.1 §2.4: who speaks first, and whether there is an answer. */
    public enum Direction { REQUEST_ANSWER, ONE_WAY, NOTIFICATION, SOLICIT }

    /**
     * The shape of one message: its root has the header blocks (role HEADER) and the body's elements as children.
     *
     * @param wrapper the RPC wrapper element's name, or null for document style
     */
    public record Message(Shape root, QualifiedName wrapper) {}

    /** A fault the service says it may send; {@code detail} is the element in the fault's detail. */
    public record DeclaredFault(String name, Shape detail) {}

    public boolean isUsable() {
        return unusable == null;
    }
}
