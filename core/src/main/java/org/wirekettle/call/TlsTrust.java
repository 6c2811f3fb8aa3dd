package org.wirekettle.call;

import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.CertPathValidator;
import java.security.cert.CertificateFactory;
import java.security.cert.PKIXParameters;
import java.security.cert.TrustAnchor;
import java.security.cert.X509Certificate;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * Whose certificates are believed: those of the authorities that the system knows, and of further ones. Immutable.
 *
 * @param isSystem whether the system's authorities count
 * @param issuers further authorities; a service's own certificate here is believed as well, and nothing it issued
 */
public record TlsTrust(boolean isSystem, List<X509Certificate> issuers) {
    /** The system's authorities alone. */
    public static final TlsTrust SYSTEM = new TlsTrust(true, List.of());

    public TlsTrust {
        issuers = List.copyOf(issuers);
    }

    /** Those of both. */
    TlsTrust and(TlsTrust other) {
        Set<X509Certificate> all = new LinkedHashSet<>(issuers);
        all.addAll(other.issuers);
        return new TlsTrust(isSystem || other.isSystem, List.copyOf(all));
    }

    /** What decides about a chain that a service shows (RFC 5280 §6). */
    X509ExtendedTrustManager manager() {
        try {
            if (issuers.isEmpty() && isSystem) {
                return manager(null);
            }
            KeyStore believed = KeyStore.getInstance(KeyStore.getDefaultType());
            believed.load(null, null);
            int n = 0;
            for (X509Certificate c : issuers) {
                believed.setCertificateEntry("own-" + n++, c);
            }
            if (isSystem) {
                for (X509Certificate c : manager(null).getAcceptedIssuers()) {
                    believed.setCertificateEntry("system-" + n++, c);
                }
            }
            return manager(believed);
        } catch (GeneralSecurityException | IOException e) {
            throw new IllegalStateException("TLS cannot be set up: " + e.getMessage(), e);
        }
    }

    private static X509ExtendedTrustManager manager(KeyStore believed) throws GeneralSecurityException {
        TrustManagerFactory f = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
        f.init(believed);
        for (TrustManager m : f.getTrustManagers()) {
            if (m instanceof X509ExtendedTrustManager x) {
                return x;
            }
        }
        throw new GeneralSecurityException("the JDK has no trust manager");
    }

    /** Whether a certificate that signed something is one of these, or was issued by one of them (RFC 5280 §6). */
    boolean believes(X509Certificate certificate) {
        if (issuers.contains(certificate)) {
            return true;
        }
        try {
            Set<TrustAnchor> anchors = new LinkedHashSet<>();
            for (X509Certificate c : manager().getAcceptedIssuers()) {
                anchors.add(new TrustAnchor(c, null));
            }
            if (anchors.isEmpty()) {
                return false;
            }
            PKIXParameters how = new PKIXParameters(anchors);
            how.setRevocationEnabled(false);
            CertPathValidator.getInstance("PKIX")
                    .validate(CertificateFactory.getInstance("X.509").generateCertPath(List.of(certificate)), how);
            return true;
        } catch (GeneralSecurityException e) {
            return false;
        }
    }
}
