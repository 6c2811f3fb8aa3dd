package org.wirekettle.server.connections;

import jakarta.transaction.Transactional;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.OffsetDateTime;
import java.util.List;
import org.wirekettle.call.Certificates;
import org.wirekettle.call.ConnectionProbe;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Wrong;

/** Certificates that are believed beside those of the system's authorities. */
@Path("/api/certificates")
public class CertificateResource {
    private static final int MAX_ADDRESS_CHARS = 2_000;

    private final CertificateMapper rows;
    private final CertificateStore store;
    private final HostPolicy policy;
    private final Clock clock;

    CertificateResource(CertificateMapper rows, CertificateStore store, HostPolicy policy, Clock clock) {
        this.rows = rows;
        this.store = store;
        this.policy = policy;
        this.clock = clock;
    }

    /** @param usedBy in words */
    public record CertificateView(
            String name,
            Certificates.Facts facts,
            boolean forImports,
            List<String> usedBy,
            OffsetDateTime addedAt,
            String addedBy) {}

    /** @param pem one or several, in PEM. @param forImports whether they are believed where descriptions are fetched */
    public record CertificatesGiven(String pem, boolean forImports) {}

    public record CertificateChange(boolean forImports) {}

    public record AddressGiven(String url) {}

    @GET
    public List<CertificateView> list() {
        return rows.list().stream()
                .map(r -> new CertificateView(
                        r.name,
                        Certificates.facts(CertificateStore.certificate(r)),
                        r.forImports,
                        rows.usedBy(r.name),
                        r.addedAt,
                        r.addedBy))
                .toList();
    }

    /** @return the names they are kept under */
    @POST
    @Transactional
    public List<String> add(CertificatesGiven in) {
        return store.add(Wrong.required(in.pem(), "pem").getBytes(StandardCharsets.UTF_8), in.forImports());
    }

    @PUT
    @Path("{name}")
    public void change(@PathParam("name") String name, CertificateChange in) {
        if (rows.forImports(name, in.forImports()) == 0) {
            throw Wrong.notFound("certificate", name);
        }
    }

    @DELETE
    @Path("{name}")
    public void delete(@PathParam("name") String name) {
        InUse.remove("certificate", name, rows.usedBy(name), () -> rows.delete(name));
    }

    /** Goes to an address as an import would, and tells what it finds on the way. No log-in goes with it. */
    @POST
    @Path("look")
    public Way look(AddressGiven in) {
        String url = Wrong.required(in.url(), "url").strip();
        if (url.length() > MAX_ADDRESS_CHARS) {
            throw Wrong.input("certificate.address", "An address has at most " + MAX_ADDRESS_CHARS + " characters.");
        }
        try {
            return Way.of(ConnectionProbe.of(HttpSettings.to(url).trusting(store.forImports()), policy, clock));
        } catch (IllegalArgumentException e) {
            throw Wrong.input("certificate.address", e.getMessage() + ".");
        }
    }
}
