package org.wirekettle.server.connections;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.StandardCharsets;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.Certificates;
import org.wirekettle.call.OwnCertificate;
import org.wirekettle.call.TlsTrust;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.common.Secrets;
import org.wirekettle.server.common.Wrong;

/** The certificates that are believed beside those of the system's authorities, by name. */
@ApplicationScoped
public class CertificateStore {
    private static final int MAX_CERTIFICATES = 500;
    private static final int MAX_NAME_CHARS = 60;

    private final CertificateMapper rows;
    private final Secrets secrets;
    private final Caller caller;

    CertificateStore(CertificateMapper rows, Secrets secrets, Caller caller) {
        this.rows = rows;
        this.secrets = secrets;
        this.caller = caller;
    }

    /**
     * Those of these names; what is not there any more is believed by nobody.
     *
     * @param isSystem whether the system's authorities count as well
     */
    TlsTrust trust(List<String> names, boolean isSystem) {
        return names.isEmpty() && isSystem
                ? TlsTrust.SYSTEM
                : of(rows.list().stream().filter(r -> names.contains(r.name)).toList(), isSystem);
    }

    /** @param name null for none. @return null for none */
    @Nullable
    OwnCertificate own(@Nullable String name) {
        if (name == null || name.isBlank()) {
            return null;
        }
        CertificateMapper.Row row = rows.get(name);
        if (row == null || row.sealedKey == null) {
            throw Wrong.notFound("certificate of our own", name);
        }
        return OwnCertificate.read(
                (secrets.decrypt(row.sealedKey) + row.pem).getBytes(StandardCharsets.US_ASCII), null);
    }

    /** @throws Wrong when one of the names is none */
    void check(Collection<String> trusted) {
        List<String> known = rows.list().stream().map(r -> r.name).toList();
        trusted.stream().filter(n -> !known.contains(n)).findFirst().ifPresent(n -> {
            throw Wrong.notFound("certificate", n);
        });
    }

    /** Those that are believed where descriptions are fetched from. */
    public TlsTrust forImports() {
        return of(rows.list().stream().filter(r -> r.forImports).toList(), true);
    }

    private static TlsTrust of(List<CertificateMapper.Row> rows, boolean isSystem) {
        return rows.isEmpty() && isSystem
                ? TlsTrust.SYSTEM
                : new TlsTrust(
                        isSystem,
                        rows.stream().map(CertificateStore::certificate).toList());
    }

    static X509Certificate certificate(CertificateMapper.Row row) {
        return Certificates.read(row.pem.getBytes(StandardCharsets.UTF_8)).get(0);
    }

    /**
     * Keeps certificates; one that is there already stays as it is.
     *
     * @param password of a PKCS#12 or JKS store; null for none
     * @return their names, in the order of the file
     * @throws Wrong when the file has none, or there are too many
     */
    List<String> add(byte[] file, @Nullable String password, boolean forImports) {
        List<X509Certificate> read;
        try {
            read = Certificates.read(file, password);
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

    /**
     * Keeps a certificate of our own, with its private key.
     *
     * @return its name
     * @throws Wrong when there is none in the file
     */
    String addOwn(byte[] file, @Nullable String password) {
        OwnCertificate own;
        try {
            own = OwnCertificate.read(file, password);
        } catch (IllegalArgumentException e) {
            throw Wrong.input("certificate.unreadable", "It cannot be taken: " + e.getMessage() + ".");
        }
        if (rows.count() >= MAX_CERTIFICATES) {
            throw Wrong.input(
                    "certificate.many", "There are at most " + MAX_CERTIFICATES + " certificates; remove some first.");
        }
        CertificateMapper.Row row = row(own.chain().get(0), false);
        row.pem = own.chain().stream().map(c -> Certificates.facts(c).pem()).collect(Collectors.joining());
        row.sealedKey = secrets.encrypt(own.keyPem());
        return add(row, Certificates.facts(own.chain().get(0)).subject());
    }

    private String add(X509Certificate c, boolean forImports) {
        return add(row(c, forImports), Certificates.facts(c).subject());
    }

    private CertificateMapper.Row row(X509Certificate c, boolean forImports) {
        Certificates.Facts facts = Certificates.facts(c);
        CertificateMapper.Row row = new CertificateMapper.Row();
        row.sha256 = facts.sha256();
        row.pem = facts.pem();
        row.forImports = forImports;
        row.addedBy = caller.name();
        return row;
    }

    private String add(CertificateMapper.Row row, String subject) {
        String base = named(subject);
        for (int n = 1; ; n++) {
            CertificateMapper.Row known = rows.bySha256(row.sha256);
            if (known != null) {
                if (row.forImports && !known.forImports) {
                    rows.forImports(known.name, true);
                }
                if (row.sealedKey != null) {
                    row.name = known.name;
                    rows.own(row);
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
