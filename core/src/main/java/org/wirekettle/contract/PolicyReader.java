package org.wirekettle.contract;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wirekettle.contract.Contract.Requirement;
import org.wirekettle.xml.XmlElement;

/**
 * Reads what a port asks of its callers besides the messages: WS-Policy assertions (WS-Policy 1.5 §4, Attachment §4)
 * and WS-Addressing markers, attached to the port, its service, its binding or its operations. Nothing is negotiated;
 * what is understood is offered as a setting.
 */
final class PolicyReader {
    private static final Set<String> POLICY = Set.of(
            "http://schemas.xmlsoap.org/ws/2004/09/policy",
            "http://www.w3.org/ns/ws-policy",
            "http://www.w3.org/2006/07/ws-policy");
    private static final Set<String> OPERATORS = Set.of("Policy", "ExactlyOne", "All");
    private static final String ID =
            "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd";

    /** An assertion known by its name: what it means, and the connection setting that answers it, if there is one. */
    private record Known(String text, String setting) {}

    private static final Map<String, Known> KNOWN = Map.ofEntries(
            Map.entry("UsingAddressing", new Known("WS-Addressing headers", "addressing")),
            Map.entry("Addressing", new Known("WS-Addressing headers", "addressing")),
            Map.entry("HttpsToken", new Known("HTTPS", "https")),
            Map.entry("TransportBinding", new Known("HTTPS", "https")),
            Map.entry("RequireClientCertificate", new Known("a client certificate", "certificate")),
            Map.entry("BasicAuthentication", new Known("HTTP Basic user and password", "basic")),
            Map.entry("HttpBasicAuthentication", new Known("HTTP Basic user and password", "basic")),
            Map.entry("DigestAuthentication", new Known("HTTP Digest log-in", "http-digest")),
            Map.entry("NtlmAuthentication", new Known("NTLM log-in", "ntlm")),
            Map.entry("NegotiateAuthentication", new Known("Negotiate (Kerberos) log-in", null)),
            Map.entry("UsernameToken", new Known("a WS-Security UsernameToken", "token")),
            Map.entry("IncludeTimestamp", new Known("a WS-Security timestamp", "timestamp")),
            Map.entry("HashPassword", new Known("a password digest in the UsernameToken", "digest")),
            Map.entry("X509Token", new Known("an X.509 certificate", null)),
            Map.entry("AsymmetricBinding", new Known("messages signed with X.509 keys", null)),
            Map.entry("SymmetricBinding", new Known("messages protected with a shared key", null)),
            Map.entry("EncryptedParts", new Known("encrypted message parts", null)),
            Map.entry("SignedParts", new Known("signed message parts", null)),
            Map.entry("OptimizedMimeSerialization", new Known("attachments as MTOM", "mtom")),
            Map.entry("BinaryEncoding", new Known("a binary encoding instead of XML", null)),
            Map.entry("RMAssertion", new Known("reliable messaging", null)));

    private final Map<String, XmlElement> policies = new HashMap<>();

    /** @param roots the definitions elements of all files read */
    PolicyReader(List<XmlElement> roots) {
        for (XmlElement root : roots) {
            for (XmlElement e : root.children()) {
                String id = e.attribute("{" + ID + "}Id") != null
                        ? e.attribute("{" + ID + "}Id")
                        : e.attribute("{http://www.w3.org/XML/1998/namespace}id");
                if (isPolicy(e) && (id != null || e.attribute("Name") != null)) {
                    policies.putIfAbsent(id == null ? e.attribute("Name") : id, e);
                }
            }
        }
    }

    /** @param places where assertions may be attached; each is looked through down to its messages */
    List<Requirement> read(List<XmlElement> places) {
        Map<String, Requirement> found = new LinkedHashMap<>();
        Set<String> followed = new LinkedHashSet<>();
        places.forEach(p -> p.walk(e -> {
            boolean isInPolicy =
                    e.parent().map(up -> POLICY.contains(up.namespace())).orElse(false);
            if (isPolicy(e) && !isInPolicy) {
                assertions(e, false, found);
            } else if (POLICY.contains(e.namespace()) && e.name().equals("PolicyReference")) {
                follow(e.attribute("URI"), followed, found);
            } else if (isAddressing(e) && !isInPolicy) {
                add(e, false, found);
            }
            e.attributes().forEach((name, value) -> {
                if (name.endsWith("}PolicyURIs")) {
                    for (String uri : value.strip().split("\\s+")) {
                        follow(uri, followed, found);
                    }
                }
            });
        }));
        return new ArrayList<>(found.values());
    }

    private void follow(String uri, Set<String> followed, Map<String, Requirement> found) {
        String id = uri == null ? "" : uri.substring(uri.indexOf('#') + 1);
        if (policies.containsKey(id) && followed.add(id)) {
            assertions(policies.get(id), false, found);
        }
    }

    private static boolean isPolicy(XmlElement e) {
        return POLICY.contains(e.namespace()) && e.name().equals("Policy");
    }

    private static boolean isAddressing(XmlElement e) {
        return e.name().equals("UsingAddressing") && e.namespace().contains("addressing");
    }

    private void assertions(XmlElement in, boolean isOptional, Map<String, Requirement> found) {
        for (XmlElement e : in.children()) {
            boolean optional = isOptional
                    || e.attributes().entrySet().stream()
                            .anyMatch(a -> a.getKey().endsWith("Optional")
                                    && (a.getValue().equals("true")
                                            || a.getValue().equals("1")));
            if (POLICY.contains(e.namespace()) && OPERATORS.contains(e.name())) {
                assertions(e, optional, found);
            } else {
                int before = found.size();
                nested(e, optional, found);
                if (found.size() == before && !KNOWN.containsKey(e.name())) {
                    found.putIfAbsent(
                            e.name(),
                            new Requirement(
                                    "the assertion " + e.name() + " of " + e.namespace()
                                            + ", which Wire Kettle does not know",
                                    null,
                                    optional,
                                    e.place()));
                }
            }
        }
    }

    private void nested(XmlElement e, boolean optional, Map<String, Requirement> found) {
        add(e, optional, found);
        if ("true".equals(e.attribute("RequireClientCertificate"))) {
            found.putIfAbsent(
                    "a client certificate", new Requirement("a client certificate", null, optional, e.place()));
        }
        e.children().forEach(c -> nested(c, optional, found));
    }

    private static void add(XmlElement e, boolean optional, Map<String, Requirement> found) {
        Known known = KNOWN.get(e.name());
        if (known != null && !POLICY.contains(e.namespace())) {
            found.putIfAbsent(known.text, new Requirement(known.text, known.setting, optional, e.place()));
        }
    }
}
