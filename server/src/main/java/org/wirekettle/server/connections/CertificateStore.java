package org.wirekettle.server.connections;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import org.wirekettle.call.Certificates;
import org.wirekettle.call.TlsTrust;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Wrong;

/** The certificates that are believed beside those of the system's authorities, by name. */
@ApplicationScoped
public class CertificateStore {
    private static final int MAX_CERTIFICATES = 500;
    private static final int MAX_NAME_CHARS = 60;

    private final CertificateMapper rows;
    private final Caller caller;

    CertificateStore(CertificateMapper rows, Caller caller) {
        this.rows = rows;
        this.caller = caller;
    }

    /** Those of these names; what is not there any more is believed by nobody. */
    TlsTrust trust(List<String> names) {
        return trust(rows.list().stream().filter(r -> names.contains(r.name)).toList(), names.isEmpty());
    }

    /** @throws Wrong when one of the names is none */
    void check(Collection<List<String>> trusted) {
        List<String> known = rows.list().stream().map(r -> r.name).toList();
        trusted.stream()
                .flatMap(List::stream)
                .filter(n -> !known.contains(n))
                .findFirst()
                .ifPresent(n -> {
                    throw Wrong.notFound("certificate", n);
                });
    }

    /** Those that are believed where descriptions are fetched from. */
    public TlsTrust forImports() {
        return trust(rows.list().stream().filter(r -> r.forImports).toList(), false);
    }

    private static TlsTrust trust(List<CertificateMapper.Row> of, boolean isSystem) {
        return isSystem || of.isEmpty()
                ? TlsTrust.SYSTEM
                : new TlsTrust(
                        true, of.stream().map(CertificateStore::certificate).toList());
    }

    static X509Certificate certificate(CertificateMapper.Row row) {
        return Certificates.read(row.pem.getBytes(StandardCharsets.UTF_8)).get(0);
    }

    /**
     * Keeps certificates; one that is there already stays as it is.
     *
     * @return their names, in the order of the file
     * @throws Wrong when the file has none, or there are too many
     */
    List<String> add(byte[] file, boolean forImports) {
        List<X509Certificate> read;
        try {
            read = Certificates.read(file);
        } catch (IllegalArgumentException e) {
            throw Wrong.input("certificate.unreadable", "It cannot be taken: " + e.getMessage() + ".");
        }
        if (rows.count() + read.size() > MAX_CERTIFICATES) {
            throw Wrong.input(
                    "certificate.many", "There are at most " + MAX_CERTIFICATES + " certificates; remove some first.");
        }
        List<String> out = new ArrayList<>();
        for (X509Certificate c : read) {
            out.add(add(c, forImports));
        }
        return out;
    }

    private String add(X509Certificate c, boolean forImports) {
        Certificates.Facts facts = Certificates.facts(c);
        CertificateMapper.Row row = new CertificateMapper.Row();
        row.sha256 = facts.sha256();
        row.pem = facts.pem();
        row.forImports = forImports;
        row.addedBy = caller.name();
        String base = named(facts.subject());
        for (int n = 1; ; n++) {
            CertificateMapper.Row known = rows.bySha256(row.sha256);
            if (known != null) {
                if (forImports && !known.forImports) {
                    rows.forImports(known.name, true);
                }
                return known.name;
            }
            row.name = n == 1 ? base : base + " " + n;
            if (rows.put(row) > 0) {
                return row.name;
            }
        }
    }

    /** Names stand in addresses. */
    private static String named(String subject) {
        String plain = subject.replaceAll("[/\\\\?#%\\p{Cntrl}]", " ").strip();
        String cut = plain.length() > MAX_NAME_CHARS
                ? plain.substring(0, MAX_NAME_CHARS).strip()
                : plain;
        return cut.isEmpty() || cut.equals(".") || cut.equals("..") ? "certificate" : cut;
    }
}
