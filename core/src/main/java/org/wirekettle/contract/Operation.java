package org.wirekettle.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.problem.Place;
import org.wirekettle.shape.QualifiedName;
import org.wirekettle.shape.Shape;

/**
 * One operation as a binding offers it (WSDL 1.1 §2.4, §2.5, §3.4). Immutable.
 *
 * @param name its name; overloads are told apart as {@code name#2}
 * @param action the SOAPAction; empty when declared empty or absent
 * @param request null when it cannot be formed
 * @param answer null for one-way operations
 * @param addressingAction the WS-Addressing action of its request (WS-Addressing 1.0 Metadata §4.4)
 * @param unusable why it cannot be called, or null
 * @param place where its port type declares it
 * @param http how it is asked for by plain HTTP; null for SOAP
 */
public record Operation(
        String name,
        String documentation,
        Style style,
        Use use,
        Direction direction,
        String action,
        Message request,
        Message answer,
        List<DeclaredFault> faults,
        String addressingAction,
        String unusable,
        Place place,
        @Nullable HttpTemplate http) {
    /** One of a SOAP binding. */
    public Operation(
            String name,
            String documentation,
            Style style,
            Use use,
            Direction direction,
            String action,
            Message request,
            Message answer,
            List<DeclaredFault> faults,
            String addressingAction,
            String unusable,
            Place place) {
        this(
                name,
                documentation,
                style,
                use,
                direction,
                action,
                request,
                answer,
                faults,
                addressingAction,
                unusable,
                place,
                null);
    }

    /** WSDL 1.1 §3.3. */
    public enum Style {
        DOCUMENT,
        RPC
    }

    /** WSDL 1.1 §3.5. */
    public enum Use {
        LITERAL,
        ENCODED
    }

    /** WSDL 1.1 §2.4: who speaks first, and whether there is an answer. */
    public enum Direction {
        REQUEST_ANSWER,
        ONE_WAY,
        NOTIFICATION,
        SOLICIT
    }

    /**
     * The shape of one message: its root has the header blocks (role HEADER) and the body's elements as children.
     *
     * @param wrapper the RPC wrapper element's name, or null for document style
     * @param json what checks it where it is JSON; null where it is not
     */
    public record Message(
            Shape root, QualifiedName wrapper, @Nullable JsonCheck json) {
        public Message(Shape root, QualifiedName wrapper) {
            this(root, wrapper, null);
        }
    }

    /**
     * A fault the service says it may send.
     *
     * @param detail the element in the fault's detail, or the header block that tells of a bad header (WSDL 1.1 §3.7)
     */
    public record DeclaredFault(String name, Shape detail, boolean isInHeader) {}

    public boolean isUsable() {
        return unusable == null;
    }
}
