package org.wirekettle.demo;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.KeyStore;
import java.security.SecureRandom;
import java.security.cert.Certificate;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.Date;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.asn1.x509.BasicConstraints;
import org.bouncycastle.asn1.x509.Extension;
import org.bouncycastle.asn1.x509.GeneralName;
import org.bouncycastle.asn1.x509.GeneralNames;
import org.bouncycastle.cert.jcajce.JcaX509CertificateConverter;
import org.bouncycastle.cert.jcajce.JcaX509ExtensionUtils;
import org.bouncycastle.cert.jcajce.JcaX509v3CertificateBuilder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;

/** The harbour's own certificate authority, which nobody knows: it issues what the simulated services show. */
public final class Authority {
    /** Of a key store that only lies on this machine, beside services that are simulated. */
    private static final char[] PASSWORD = "tallow-reach".toCharArray();

    private static final String ISSUER = "CN=Tallow Reach CA";
    private static final Duration ISSUER_LIFE = Duration.ofDays(3_650);
    private static final Duration SERVICE_LIFE = Duration.ofDays(365);

    private final String name;
    private final KeyPair keys;
    private final X509Certificate certificate;

    public Authority() throws GeneralSecurityException {
        this(ISSUER);
    }

    private Authority(String name) throws GeneralSecurityException {
        this.name = name;
        keys = keys();
        Instant from = Instant.now().minus(Duration.ofDays(1));
        certificate = sign(name, keys, from, from.plus(ISSUER_LIFE), true);
    }

    private static KeyPair keys() throws GeneralSecurityException {
        KeyPairGenerator g = KeyPairGenerator.getInstance("EC");
        g.initialize(256);
        return g.generateKeyPair();
    }

    public X509Certificate certificate() {
        return certificate;
    }

    private X509Certificate sign(
            String subject, KeyPair of, Instant from, Instant until, boolean isAuthority, String... hosts)
            throws GeneralSecurityException {
        try {
            JcaX509v3CertificateBuilder b = new JcaX509v3CertificateBuilder(
                    new X500Name(name),
                    new BigInteger(120, new SecureRandom()),
                    Date.from(from),
                    Date.from(until),
                    new X500Name(subject),
                    of.getPublic());
            b.addExtension(Extension.basicConstraints, true, new BasicConstraints(isAuthority));
            b.addExtension(
                    Extension.subjectKeyIdentifier,
                    false,
                    new JcaX509ExtensionUtils().createSubjectKeyIdentifier(of.getPublic()));
            if (hosts.length > 0) {
                GeneralName[] names = new GeneralName[hosts.length];
                for (int i = 0; i < hosts.length; i++) {
                    boolean isAddress = hosts[i].matches("[0-9.]+");
                    names[i] = new GeneralName(isAddress ? GeneralName.iPAddress : GeneralName.dNSName, hosts[i]);
                }
                b.addExtension(Extension.subjectAlternativeName, false, new GeneralNames(names));
            }
            return new JcaX509CertificateConverter()
                    .getCertificate(b.build(new JcaContentSignerBuilder("SHA256withECDSA").build(keys.getPrivate())));
        } catch (IOException | OperatorCreationException e) {
            throw new GeneralSecurityException(e);
        }
    }

    /** For somebody who signs messages with a key of theirs. */
    public X509Certificate issue(String name, KeyPair of) throws GeneralSecurityException {
        return sign(
                "CN=" + name,
                of,
                Instant.now().minus(SERVICE_LIFE),
                Instant.now().plus(SERVICE_LIFE),
                false);
    }

    /** What a service needs that shows a certificate for these hosts. */
    public KeyStore service(Instant until, String... hosts) throws GeneralSecurityException, IOException {
        return service(until, hosts, certificate);
    }

    /**
     * Likewise, showing as its issuer a certificate that an older authority gave this one and that has ended, as
     * services do long after the change: who knows this authority does not need it.
     */
    public KeyStore crossSigned(Instant until, String... hosts) throws GeneralSecurityException, IOException {
        Instant longAgo = Instant.now().minus(SERVICE_LIFE);
        Authority older = new Authority("CN=Old Harbour CA");
        X509Certificate ended = older.sign(ISSUER, keys, longAgo.minus(SERVICE_LIFE), longAgo, true);
        return service(until, hosts, ended);
    }

    private KeyStore service(Instant until, String[] hosts, X509Certificate issuer)
            throws GeneralSecurityException, IOException {
        KeyPair own = keys();
        X509Certificate shown = sign("CN=" + hosts[0], own, until.minus(SERVICE_LIFE), until, false, hosts);
        KeyStore out = KeyStore.getInstance("PKCS12");
        out.load(null, null);
        out.setKeyEntry("service", own.getPrivate(), PASSWORD, new Certificate[] {shown, issuer});
        return out;
    }

    /**
     * The key store of the services here, as bytes; kept in a file, so that who has trusted the issuer need not again.
     */
    static byte[] kept(Path file) throws GeneralSecurityException, IOException {
        if (file != null && Files.exists(file)) {
            KeyStore known = KeyStore.getInstance("PKCS12");
            try (InputStream in = Files.newInputStream(file)) {
                known.load(in, PASSWORD);
            }
            X509Certificate shown = (X509Certificate) known.getCertificate("service");
            if (shown.getNotAfter().toInstant().isAfter(Instant.now().plus(Duration.ofDays(60)))) {
                return Files.readAllBytes(file);
            }
        }
        KeyStore made = new Authority().service(Instant.now().plus(SERVICE_LIFE), "localhost", "127.0.0.1");
        byte[] bytes = bytes(made);
        if (file != null) {
            try (OutputStream out = Files.newOutputStream(file)) {
                out.write(bytes);
            }
        }
        return bytes;
    }

    public static byte[] bytes(KeyStore store) throws GeneralSecurityException, IOException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        store.store(out, PASSWORD);
        return out.toByteArray();
    }

    public static String password() {
        return new String(PASSWORD);
    }
}
