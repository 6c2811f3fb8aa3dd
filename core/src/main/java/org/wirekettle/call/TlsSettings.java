package org.wirekettle.call;

import java.security.GeneralSecurityException;
import java.util.List;
import javax.net.ssl.KeyManager;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import org.jspecify.annotations.Nullable;

/**
 * How connections are secured. Immutable.
 *
 * @param trust whose certificates are believed
 * @param own what we show of ourselves when the service asks; null for nothing
 * @param lowest the lowest version that is spoken
 * @param isAnyName whether a certificate counts that is for another host: whoever has any certificate of a believed
 *     issuer can then take the service's place
 */
public record TlsSettings(TlsTrust trust, @Nullable OwnCertificate own, Version lowest, boolean isAnyName) {
    /** What is spoken here; older ones have been withdrawn (RFC 8996). */
    public enum Version {
        TLS_1_2("TLSv1.2"),
        TLS_1_3("TLSv1.3");

        private final String name;

        Version(String name) {
            this.name = name;
        }

        /** This one and those after it, as the JDK names them. */
        public String[] andLater() {
            return List.of(values()).subList(ordinal(), values().length).stream()
                    .map(v -> v.name)
                    .toArray(String[]::new);
        }
    }

    public static final TlsSettings USUAL = new TlsSettings(TlsTrust.SYSTEM, null, Version.TLS_1_2, false);

    public TlsSettings trusting(TlsTrust other) {
        return new TlsSettings(other, own, lowest, isAnyName);
    }

    public TlsSettings showing(@Nullable OwnCertificate certificate) {
        return new TlsSettings(trust, certificate, lowest, isAnyName);
    }

    /** With those of the trust that is always there, too. */
    TlsSettings and(TlsTrust other) {
        return trusting(other.and(trust));
    }

    /** @throws IllegalStateException when the JDK cannot use one of the certificates */
    public SSLContext context() {
        return context(trust.manager());
    }

    /**
     * @param believing who decides about the chain
     * @throws IllegalStateException when the JDK cannot use one of the certificates
     */
    SSLContext context(TrustManager believing) {
        try {
            SSLContext out = SSLContext.getInstance("TLS");
            out.init(own == null ? null : new KeyManager[] {own.manager()}, new TrustManager[] {believing}, null);
            return out;
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("TLS cannot be set up: " + e.getMessage(), e);
        }
    }
}
