package org.wirekettle.soap;

import org.wirekettle.xml.Escape;

/** WS-Addressing 1.0 header blocks of a request (WS-Addressing 1.0 Core §3, SOAP Binding §3). */
public final class Addressing {
    private static final String NAMESPACE = "http://www.w3.org/2005/08/addressing";

    private Addressing() {}

    /**
     * @param action what the receiver should do, a URI
     * @param to the endpoint's address
     * @param messageId a URI used for this message only
     */
    public static String headers(String action, String to, String messageId) {
        return block("Action", action) + block("To", to) + block("MessageID", messageId)
                + "<wsa:ReplyTo xmlns:wsa=\"" + NAMESPACE + "\"><wsa:Address>" + NAMESPACE + "/anonymous</wsa:Address></wsa:ReplyTo>";
    }

    private static String block(String name, String value) {
        return "<wsa:" + name + " xmlns:wsa=\"" + NAMESPACE + "\">" + Escape.xml(value) + "</wsa:" + name + ">";
    }
}
