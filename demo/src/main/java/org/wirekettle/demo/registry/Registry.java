package org.wirekettle.demo.registry;

import static org.wirekettle.demo.SoapText.children;
import static org.wirekettle.demo.SoapText.escape;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Predicate;
import org.w3c.dom.Element;
import org.wirekettle.demo.SoapText;
import org.wirekettle.demo.tidedesk.TideDesk.Answer;

/** The stand-in for the harbour's UDDI registry: the inquiry calls of versions 3 and 2 over a handful of entries. */
public final class Registry {
    private static final String V3 = "urn:uddi-org:api_v3";
    private static final String V2 = "urn:uddi-org:api_v2";
    private static final List<String[]> BUSINESSES = List.of(
            new String[] {"office", "Tallow Reach Harbour Office", "Dues, berths and tides of the harbour."},
            new String[] {"gannet", "Gannet & Sole", "Ship clearance."});
    /** Key, business, name, description, address, WSDL. */
    private static final List<String[]> SERVICES = List.of(
            new String[] {
                "tides",
                "office",
                "Tide desk",
                "When a ship of a given draught may enter.",
                "/tidedesk",
                "/tidedesk?wsdl"
            },
            new String[] {"dues", "office", "Harbour dues", "What a visit costs; an old service.", "/dues", "/dues?wsdl"
            },
            new String[] {"weather", "office", "Marine bulletin", "Weather by sea area.", "/bulletin", "/bulletin?wsdl"
            },
            new String[] {
                "cargo", "gannet", "Cargo manifests", "Filing and reading of manifests.", "/cargo", "/cargo/cargo.wsdl"
            });

    private Registry() {}

    /** @param onlyOld whether to play a registry that has not heard of version 3 */
    public static Answer answer(byte[] request, String baseUrl, boolean onlyOld) {
        Element ask = SoapText.body(request);
        String ns = ask == null || onlyOld && V3.equals(ask.getNamespaceURI()) ? "" : ask.getNamespaceURI();
        if (!V3.equals(ns) && !V2.equals(ns)) {
            return SoapText.fault("Client", "This registry answers UDDI inquiries only.", "");
        }
        String v2 = V2.equals(ns) ? " generic=\"2.0\" operator=\"Tallow Reach\"" : "";
        String key = V3.equals(ns) ? "uddi:tallow-reach:" : "uuid:";
        return switch (ask.getLocalName()) {
            case "find_business" ->
                SoapText.ok("<businessList xmlns=\"" + ns + "\"" + v2 + "><businessInfos>" + businesses(named(ask), key)
                        + "</businessInfos></businessList>");
            case "find_service" ->
                SoapText.ok("<serviceList xmlns=\"" + ns + "\"" + v2 + "><serviceInfos>" + services(ask, key)
                        + "</serviceInfos></serviceList>");
            case "get_serviceDetail" -> details(ask, ns, v2, key, baseUrl);
            case "get_tModelDetail" ->
                SoapText.ok("<tModelDetail xmlns=\"" + ns + "\"" + v2 + ">" + models(ask, key, baseUrl)
                        + "</tModelDetail>");
            default ->
                SoapText.fault(
                        "Client",
                        "E_unsupported",
                        "<dispositionReport xmlns=\"" + ns + "\"" + v2
                                + "><result errno=\"10050\"><errInfo errCode=\"E_unsupported\">" + ask.getLocalName()
                                + "</errInfo></result></dispositionReport>");
        };
    }

    /** UDDI names match from the start; with approximateMatch {@code %} stands for anything. */
    private static Predicate<String> named(Element ask) {
        List<String> patterns = new ArrayList<>();
        children(ask, "name")
                .forEach(n -> patterns.add(n.getTextContent().strip().toLowerCase(Locale.ROOT)));
        return name -> patterns.isEmpty()
                || patterns.stream().anyMatch(p -> name.toLowerCase(Locale.ROOT)
                        .matches(("\\Q" + p.replace("%", "\\E.*\\Q") + "\\E") + (p.contains("%") ? "" : ".*")));
    }

    private static String businesses(Predicate<String> named, String key) {
        StringBuilder out = new StringBuilder();
        for (String[] b : BUSINESSES) {
            if (named.test(b[1])) {
                out.append("<businessInfo businessKey=\"")
                        .append(key)
                        .append(b[0])
                        .append("\"><name xml:lang=\"en\">")
                        .append(escape(b[1]))
                        .append("</name><description>")
                        .append(b[2])
                        .append("</description><serviceInfos>");
                SERVICES.stream().filter(s -> s[1].equals(b[0])).forEach(s -> out.append(info(s, key)));
                out.append("</serviceInfos></businessInfo>");
            }
        }
        return out.toString();
    }

    private static String info(String[] s, String key) {
        return "<serviceInfo serviceKey=\"" + key + s[0] + "\" businessKey=\"" + key + s[1]
                + "\"><name xml:lang=\"en\">" + escape(s[2]) + "</name></serviceInfo>";
    }

    private static String services(Element ask, String key) {
        Predicate<String> named = named(ask);
        String business = ask.getAttribute("businessKey");
        StringBuilder out = new StringBuilder();
        SERVICES.stream()
                .filter(s -> named.test(s[2]) && (business.isEmpty() || business.equals(key + s[1])))
                .forEach(s -> out.append(info(s, key)));
        return out.toString();
    }

    private static Answer details(Element ask, String ns, String v2, String key, String baseUrl) {
        StringBuilder out = new StringBuilder("<serviceDetail xmlns=\"" + ns + "\"" + v2 + ">");
        for (Element wanted : children(ask, "serviceKey")) {
            String[] s = SERVICES.stream()
                    .filter(x -> wanted.getTextContent().strip().equals(key + x[0]))
                    .findFirst()
                    .orElse(null);
            if (s == null) {
                return SoapText.fault(
                        "Client",
                        "E_invalidKeyPassed",
                        "<dispositionReport xmlns=\"" + ns + "\"" + v2
                                + "><result errno=\"10210\"><errInfo errCode=\"E_invalidKeyPassed\">"
                                + escape(wanted.getTextContent()) + "</errInfo></result></dispositionReport>");
            }
            out.append("<businessService serviceKey=\"")
                    .append(key)
                    .append(s[0])
                    .append("\" businessKey=\"")
                    .append(key)
                    .append(s[1])
                    .append("\"><name xml:lang=\"en\">")
                    .append(escape(s[2]))
                    .append("</name><description>")
                    .append(s[3])
                    .append("</description><bindingTemplates><bindingTemplate bindingKey=\"")
                    .append(key)
                    .append(s[0])
                    .append(":1\"><accessPoint ")
                    .append(v2.isEmpty() ? "useType=\"endPoint\"" : "URLType=\"http\"")
                    .append('>')
                    .append(baseUrl)
                    .append(s[4])
                    .append("</accessPoint><tModelInstanceDetails><tModelInstanceInfo tModelKey=\"")
                    .append(key)
                    .append(s[0])
                    .append(":wsdl\"/></tModelInstanceDetails></bindingTemplate></bindingTemplates></businessService>");
        }
        return SoapText.ok(out.append("</serviceDetail>").toString());
    }

    private static String models(Element ask, String key, String baseUrl) {
        StringBuilder out = new StringBuilder();
        for (Element wanted : children(ask, "tModelKey")) {
            SERVICES.stream()
                    .filter(s -> wanted.getTextContent().strip().equals(key + s[0] + ":wsdl"))
                    .forEach(s -> out.append("<tModel tModelKey=\"")
                            .append(key)
                            .append(s[0])
                            .append(":wsdl\"><name>")
                            .append(escape(s[2]))
                            .append("</name><overviewDoc><overviewURL")
                            .append(key.startsWith("uddi:") ? " useType=\"wsdlInterface\"" : "")
                            .append('>')
                            .append(baseUrl)
                            .append(s[5])
                            .append("</overviewURL></overviewDoc></tModel>"));
        }
        return out.toString();
    }
}
