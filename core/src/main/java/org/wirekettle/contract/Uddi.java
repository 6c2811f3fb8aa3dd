package org.wirekettle.contract;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.wirekettle.xml.Escape;
import org.wirekettle.xml.XmlElement;

/**
 * The inquiry messages of UDDI registries (UDDI 3.0.2 §5.1, UDDI 2.04 §4): bodies to send, and what the answers say.
 */
public final class Uddi {
    private Uddi() {}

    /** The versions asked for, the newest first. */
    public enum Version {
        V3("urn:uddi-org:api_v3", ""),
        V2("urn:uddi-org:api_v2", " generic=\"2.0\"");

        private final String namespace;
        private final String attributes;

        Version(String namespace, String attributes) {
            this.namespace = namespace;
            this.attributes = attributes;
        }

        private String call(String name, String attribute, String content) {
            return "<" + name + " xmlns=\"" + namespace + "\"" + attributes + attribute + ">" + content + "</" + name
                    + ">";
        }
    }

    /** A business with the services it has. */
    public record Business(String key, String name, String description, List<ServiceInfo> services) {}

    public record ServiceInfo(String key, String businessKey, String name) {}

    public record ServiceDetail(
            String key, String businessKey, String name, String description, List<Binding> bindings) {}

    /**
     * Where a service is reached and what describes it.
     *
     * @param address the access point; may be null
     * @param wsdl where its WSDL is, when the binding itself says so; may be null
     * @param models keys of the tModels it implements, which may know
     */
    public record Binding(String address, String wsdl, List<String> models) {}

    /** Businesses whose name contains the text. */
    public static String findBusiness(Version v, String text) {
        return v.call("find_business", "", approximately(v) + name(text));
    }

    /** Services whose name contains the text. */
    public static String findService(Version v, String text) {
        return v.call("find_service", "", approximately(v) + name(text));
    }

    public static String serviceDetail(Version v, List<String> keys) {
        return v.call("get_serviceDetail", "", elements("serviceKey", keys));
    }

    public static String modelDetail(Version v, List<String> keys) {
        return v.call("get_tModelDetail", "", elements("tModelKey", keys));
    }

    /** Version 2 knows {@code %} without being told. */
    private static String approximately(Version v) {
        return v == Version.V2
                ? ""
                : "<findQualifiers><findQualifier>uddi:uddi.org:findqualifier:approximatematch</findQualifier>"
                        + "</findQualifiers>";
    }

    private static String name(String text) {
        return "<name>%" + Escape.xml(text.strip()) + "%</name>";
    }

    private static String elements(String name, List<String> values) {
        StringBuilder out = new StringBuilder();
        values.forEach(v -> out.append('<')
                .append(name)
                .append('>')
                .append(Escape.xml(v))
                .append("</")
                .append(name)
                .append('>'));
        return out.toString();
    }

    /** @param body the envelope's Body */
    public static List<Business> businesses(XmlElement body) {
        return all(body, "businessInfo").stream()
                .map(b ->
                        new Business(b.attribute("businessKey"), text(b, "name"), text(b, "description"), services(b)))
                .toList();
    }

    public static List<ServiceInfo> services(XmlElement in) {
        return all(in, "serviceInfo").stream()
                .map(s -> new ServiceInfo(s.attribute("serviceKey"), s.attribute("businessKey"), text(s, "name")))
                .toList();
    }

    public static List<ServiceDetail> details(XmlElement body) {
        return all(body, "businessService").stream()
                .map(s -> new ServiceDetail(
                        s.attribute("serviceKey"),
                        s.attribute("businessKey"),
                        text(s, "name"),
                        text(s, "description"),
                        all(s, "bindingTemplate").stream().map(Uddi::binding).toList()))
                .toList();
    }

    private static Binding binding(XmlElement template) {
        Optional<XmlElement> point = template.children().stream()
                .filter(c -> c.name().equals("accessPoint"))
                .findFirst();
        String address = point.map(XmlElement::text).orElse(null);
        // UDDI 3.0.2 §3.5.2.1: an access point may be the place of the WSDL instead of the endpoint's.
        boolean isWsdl = point.map(p -> String.valueOf(p.attribute("useType")).equals("wsdlDeployment"))
                        .orElse(false)
                || address != null && address.toLowerCase(java.util.Locale.ROOT).matches(".*[?&]wsdl$|.*\\.wsdl$");
        List<String> models = new ArrayList<>();
        all(template, "tModelInstanceInfo").forEach(m -> models.add(m.attribute("tModelKey")));
        String overview = all(template, "overviewURL").stream()
                .map(XmlElement::text)
                .filter(u -> u.startsWith("http"))
                .findFirst()
                .orElse(null);
        return new Binding(isWsdl ? null : address, isWsdl ? address : overview, models);
    }

    /** Where each tModel's description is, by its key. */
    public static Map<String, String> descriptions(XmlElement body) {
        Map<String, String> out = new LinkedHashMap<>();
        for (XmlElement m : all(body, "tModel")) {
            all(m, "overviewURL").stream()
                    .map(XmlElement::text)
                    .filter(u -> u.startsWith("http"))
                    .findFirst()
                    .ifPresent(u -> out.put(m.attribute("tModelKey"), u.replaceFirst("#.*$", "")));
        }
        return out;
    }

    private static List<XmlElement> all(XmlElement in, String name) {
        List<XmlElement> out = new ArrayList<>();
        in.walk(e -> {
            if (e.name().equals(name)) {
                out.add(e);
            }
        });
        return out;
    }

    private static String text(XmlElement in, String child) {
        return in.children().stream()
                .filter(c -> c.name().equals(child))
                .map(XmlElement::text)
                .findFirst()
                .orElse(null);
    }
}
