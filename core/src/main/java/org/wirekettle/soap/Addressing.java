package org.wirekettle.soap;

import org.jspecify.annotations.Nullable;
import org.wirekettle.xml.Escape;

/** WS-Addressing 1.0 header blocks of a request (WS-Addressing 1.0 Core §3, SOAP Binding §3). */
public final class Addressing {
    static final String NAMESPACE = "http://www.w3.org/2005/08/addressing";

    private Addressing() {}

    /**
     * @param action what the receiver should do, a URI
     * @param to the endpoint's address
     * @param messageId a URI used for this message only
     * @param attributes of each block, as {@link SoapVersion#headerAttributes} writes them
     */
    public static String headers(String action, String to, String messageId, String attributes) {
        return block("Action", attributes, Escape.xml(action))
                + block("To", attributes, Escape.xml(to))
                + block("MessageID", attributes, Escape.xml(messageId))
                + block("ReplyTo", attributes, "<wsa:Address>" + NAMESPACE + "/anonymous</wsa:Address>");
    }

    /**
     * Header blocks of an answer.
     *
     * @param to the id of the message that is answered; null where it has none
     */
    static String answers(String action, @Nullable String to) {
        return block("Action", "", Escape.xml(action)) + (to == null ? "" : block("RelatesTo", "", Escape.xml(to)));
    }

    private static String block(String name, String attributes, String content) {
        return "<wsa:" + name + " xmlns:wsa=\"" + NAMESPACE + "\"" + attributes + ">" + content + "</wsa:" + name + ">";
    }
}
