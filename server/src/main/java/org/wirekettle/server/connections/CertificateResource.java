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
import java.util.Base64;
import java.util.List;
import org.jspecify.annotations.Nullable;
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

    /** @param isOurs whether its private key is known here. @param usedBy in words */
    public record CertificateView(
            String name,
            Certificates.Facts facts,
            boolean isOurs,
            boolean forImports,
            List<String> usedBy,
            OffsetDateTime addedAt,
            String addedBy) {}

    /**
     * Certificates to be believed, or one of our own.
     *
     * @param pem in PEM; null where there is a file
     * @param file in Base64: PEM, DER, PKCS#12 or JKS; null for {@code pem}
     * @param password of a PKCS#12 or JKS store; null for none
     * @param isOurs whether the file's private key is taken with its certificate, to be shown as ours
     * @param forImports whether they are believed where descriptions are fetched
     */
    public record CertificatesGiven(
            @Nullable String pem,
            @Nullable String file,
            @Nullable String password,
            boolean isOurs,
            boolean forImports) {}

    public record CertificateChange(boolean forImports) {}

    public record AddressGiven(String url) {}

    @GET
    public List<CertificateView> list() {
        return rows.list().stream()
                .map(r -> new CertificateView(
                        r.name,
                        Certificates.facts(CertificateStore.certificate(r)),
                        r.sealedKey != null,
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
        byte[] file = bytes(in);
        return in.isOurs()
                ? List.of(store.addOwn(file, in.password()))
                : store.add(file, in.password(), in.forImports());
    }

    private static byte[] bytes(CertificatesGiven in) {
        if (in.file() == null) {
            return Wrong.required(in.pem(), "pem").getBytes(StandardCharsets.UTF_8);
        }
        try {
            return Base64.getDecoder().decode(in.file());
        } catch (IllegalArgumentException e) {
            throw Wrong.input("certificate.unreadable", "The file is no Base64.");
        }
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
