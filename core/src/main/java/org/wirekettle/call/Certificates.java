package org.wirekettle.call;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.MessageDigest;
import java.security.cert.CertificateEncodingException;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import javax.naming.InvalidNameException;
import javax.naming.ldap.LdapName;
import javax.naming.ldap.Rdn;
import org.jspecify.annotations.Nullable;

/** Reads certificates, and tells what is in them. */
public final class Certificates {
    /** A file with more than these, or larger, is none of a few authorities. */
    private static final int MAX_CERTIFICATES = 100;

    private static final int MAX_BYTES = 1024 * 1024;
    private static final int PEM_LINE = 64;
    /** Subject alternative names of these kinds are shown (RFC 5280 §4.2.1.6). */
    private static final int DNS_NAME = 2;

    private static final int IP_ADDRESS = 7;

    private Certificates() {}

    /**
     * What a certificate says.
     *
     * @param subject whose it is: the common name, or the whole name where there is none
     * @param names the hosts it is for
     * @param from and until: when it counts
     * @param isOwnIssuer whether it is signed by itself, as those of root authorities are
     * @param isAuthority whether it may issue others (RFC 5280 §4.2.1.9)
     * @param sha256 fingerprint, hexadecimal in capitals
     */
    public record Facts(
            String subject,
            String issuer,
            List<String> names,
            Instant from,
            Instant until,
            boolean isOwnIssuer,
            boolean isAuthority,
            String sha256,
            String pem) {}

    /**
     * One or several certificates, in PEM (RFC 7468) or DER.
     *
     * @throws IllegalArgumentException in words, when there are none
     */
    public static List<X509Certificate> read(byte[] file) {
        if (file.length > MAX_BYTES) {
            throw new IllegalArgumentException("a file of certificates has at most " + MAX_BYTES / 1024 + " KB");
        }
        if (new String(file, StandardCharsets.ISO_8859_1).contains("PRIVATE KEY")) {
            throw new IllegalArgumentException(
                    "there is a private key in it: only the certificate is wanted, which everybody may see");
        }
        List<X509Certificate> out = new ArrayList<>();
        try {
            CertificateFactory x509 = CertificateFactory.getInstance("X.509");
            x509.generateCertificates(new ByteArrayInputStream(file)).forEach(c -> out.add((X509Certificate) c));
        } catch (CertificateException e) {
            throw new IllegalArgumentException("this is no certificate in PEM or DER", e);
        }
        if (out.isEmpty()) {
            throw new IllegalArgumentException("there is no certificate in it; PEM or DER is taken");
        }
        if (out.size() > MAX_CERTIFICATES) {
            throw new IllegalArgumentException("there are more than " + MAX_CERTIFICATES + " certificates in it");
        }
        return out;
    }

    /**
     * The same, or those that a PKCS#12 or JKS store has beside its keys.
     *
     * @param password the store's; null for none
     */
    public static List<X509Certificate> read(byte[] file, @Nullable String password) {
        boolean isJks = file.length > 1 && (file[0] & 0xFF) == 0xFE && (file[1] & 0xFF) == 0xED;
        if (password == null && !isJks) {
            return read(file);
        }
        if (file.length > MAX_BYTES) {
            throw new IllegalArgumentException("a file of certificates has at most " + MAX_BYTES / 1024 + " KB");
        }
        List<X509Certificate> out = new ArrayList<>();
        try {
            KeyStore store = KeyStore.getInstance(isJks ? "JKS" : "PKCS12");
            store.load(new ByteArrayInputStream(file), password == null ? null : password.toCharArray());
            for (String alias : Collections.list(store.aliases())) {
                if (store.isCertificateEntry(alias) && store.getCertificate(alias) instanceof X509Certificate c) {
                    out.add(c);
                }
            }
        } catch (IOException | GeneralSecurityException e) {
            throw new IllegalArgumentException("it is no store of certificates, or its password is another one", e);
        }
        if (out.isEmpty() || out.size() > MAX_CERTIFICATES) {
            throw new IllegalArgumentException(
                    "there are " + out.size() + " certificates of others in it, not 1 to " + MAX_CERTIFICATES);
        }
        return out;
    }

    public static Facts facts(X509Certificate c) {
        return new Facts(
                name(c.getSubjectX500Principal().getName()),
                name(c.getIssuerX500Principal().getName()),
                hosts(c),
                c.getNotBefore().toInstant(),
                c.getNotAfter().toInstant(),
                c.getSubjectX500Principal().equals(c.getIssuerX500Principal()),
                c.getBasicConstraints() >= 0,
                fingerprint(c),
                pem(c));
    }

    private static String name(String distinguished) {
        try {
            for (Rdn r : new LdapName(distinguished).getRdns()) {
                if (r.getType().equalsIgnoreCase("CN")) {
                    return String.valueOf(r.getValue());
                }
            }
        } catch (InvalidNameException e) {
            // shown as it is
        }
        return distinguished;
    }

    private static List<String> hosts(X509Certificate c) {
        List<String> out = new ArrayList<>();
        try {
            if (c.getSubjectAlternativeNames() != null) {
                for (List<?> n : c.getSubjectAlternativeNames()) {
                    if (n.get(0).equals(DNS_NAME) || n.get(0).equals(IP_ADDRESS)) {
                        out.add(String.valueOf(n.get(1)));
                    }
                }
            }
        } catch (CertificateException e) {
            // Names that cannot be read are names it is not for.
        }
        return List.copyOf(out);
    }

    public static String fingerprint(X509Certificate c) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(c.getEncoded());
            return HexFormat.of().formatHex(digest).toUpperCase(Locale.ROOT);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        }
    }

    private static String pem(X509Certificate c) {
        try {
            return "-----BEGIN CERTIFICATE-----\n"
                    + Base64.getMimeEncoder(PEM_LINE, new byte[] {'\n'}).encodeToString(c.getEncoded())
                    + "\n-----END CERTIFICATE-----\n";
        } catch (CertificateEncodingException e) {
            throw new IllegalStateException("a certificate that was read can be written", e);
        }
    }
}
