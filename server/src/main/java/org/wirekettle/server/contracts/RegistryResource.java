package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Exchange;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpCaller;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.contract.Operation.Use;
import org.wirekettle.contract.Uddi;
import org.wirekettle.contract.Uddi.Version;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.soap.Envelopes;
import org.wirekettle.soap.SoapVersion;
import org.wirekettle.xml.XmlElement;
import org.wirekettle.xml.XmlText;

/** Finds descriptions in a UDDI registry. */
@Path("/api/registry")
public class RegistryResource {
    /** Services looked into for one inquiry. */
    private static final int MAX_SERVICES = 60;

    private final Connections connections;
    private final HostPolicy policy;

    RegistryResource(Connections connections, HostPolicy policy) {
        this.connections = connections;
        this.policy = policy;
    }

    /**
     * @param connection to the registry's inquiry address; or {@code url}
     * @param text part of a business's or a service's name; empty for all
     */
    public record Inquiry(
            @Nullable String connection,
            @Nullable String environment,
            @Nullable String url,
            @Nullable String text) {}

    /** @param wsdl where the description is; null when the registry does not say */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RegistryEntry(
            @Nullable String business,
            @Nullable String service,
            @Nullable String description,
            @Nullable String address,
            @Nullable String wsdl) {}

    /** @param version of UDDI the registry was asked in */
    public record Findings(String version, List<RegistryEntry> found, int notShown) {}

    @POST
    @Path("find")
    public Findings find(Inquiry in) {
        boolean overConnection = in.connection() != null && !in.connection().isBlank();
        if (!overConnection && (in.url() == null || in.url().isBlank())) {
            throw Wrong.input(
                    "registry.address",
                    "Give the address of the registry's inquiry service, or choose a connection to it.");
        }
        HttpSettings settings = overConnection
                ? connections.http(in.connection(), in.environment())
                : HttpSettings.to(in.url().strip());
        try (HttpCaller http = new HttpCaller(settings.withParallel(1), policy)) {
            String text = in.text() == null ? "" : in.text();
            try {
                return find(http, Version.V3, text);
            } catch (Wrong newest) {
                if (!newest.code().equals("registry.refused")) {
                    throw newest;
                }
                try {
                    return find(http, Version.V2, text);
                } catch (Wrong older) {
                    newest.addSuppressed(older);
                    throw newest;
                }
            }
        } catch (IllegalArgumentException e) {
            throw Wrong.input("registry.address", e.getMessage());
        }
    }

    private static Findings find(HttpCaller http, Version v, String text) {
        Map<String, String> businesses = new LinkedHashMap<>();
        Set<String> keys = new LinkedHashSet<>();
        for (Uddi.Business b : Uddi.businesses(ask(http, Uddi.findBusiness(v, text)))) {
            businesses.put(b.key(), b.name());
            b.services().forEach(s -> keys.add(s.key()));
        }
        Uddi.services(ask(http, Uddi.findService(v, text))).forEach(s -> keys.add(s.key()));
        if (keys.isEmpty()) {
            return new Findings(v.name().replace("V", ""), List.of(), 0);
        }
        List<Uddi.ServiceDetail> details = Uddi.details(ask(
                http, Uddi.serviceDetail(v, keys.stream().limit(MAX_SERVICES).toList())));
        List<String> models = details.stream()
                .flatMap(d -> d.bindings().stream())
                .flatMap(b -> b.models().stream())
                .distinct()
                .toList();
        Map<String, String> descriptions =
                models.isEmpty() ? Map.of() : Uddi.descriptions(ask(http, Uddi.modelDetail(v, models)));
        if (details.stream().anyMatch(d -> !businesses.containsKey(d.businessKey()))) {
            Uddi.businesses(ask(http, Uddi.findBusiness(v, "")))
                    .forEach(b -> businesses.putIfAbsent(b.key(), b.name()));
        }
        List<RegistryEntry> out = new ArrayList<>();
        for (Uddi.ServiceDetail d : details) {
            for (Uddi.Binding b : d.bindings()) {
                String wsdl = b.wsdl() != null
                        ? b.wsdl()
                        : b.models().stream()
                                .map(descriptions::get)
                                .filter(java.util.Objects::nonNull)
                                .findFirst()
                                .orElse(null);
                out.add(new RegistryEntry(
                        businesses.get(d.businessKey()), d.name(), d.description(), b.address(), wsdl));
            }
        }
        return new Findings(v.name().replace("V", ""), out, Math.max(0, keys.size() - MAX_SERVICES));
    }

    /** @return the answer's Body */
    private static XmlElement ask(HttpCaller http, String body) {
        Exchange x = http.post(
                SoapVersion.SOAP11.contentType("", StandardCharsets.UTF_8),
                List.<String[]>of(new String[] {"SOAPAction", "\"\""}),
                Envelopes.write(SoapVersion.SOAP11, Use.LITERAL, "", body));
        if (x.outcome() != Exchange.Outcome.ANSWERED) {
            throw Wrong.input("registry.unreachable", "The registry does not answer: " + x.problem());
        }
        XmlElement found = envelope(x).children().stream()
                .filter(c -> c.name().equals("Body"))
                .findFirst()
                .orElseThrow(() -> Wrong.input("registry.refused", "The registry's answer is no SOAP message."));
        if (x.status() != 200
                || found.children().stream().anyMatch(c -> c.name().equals("Fault"))) {
            throw Wrong.input(
                    "registry.refused", "The registry refuses the inquiry (HTTP " + x.status() + "): " + found.text());
        }
        return found;
    }

    private static XmlElement envelope(Exchange x) {
        try {
            return XmlElement.parse(
                    "registry",
                    XmlText.read("registry", x.answer(), new ArrayList<>()).text());
        } catch (Refused e) {
            throw Wrong.input(
                    "registry.refused",
                    "The registry answers with HTTP status " + x.status() + " and no SOAP message: "
                            + new String(x.answer(), 0, Math.min(200, x.answer().length), StandardCharsets.UTF_8)
                                    .strip());
        }
    }
}
