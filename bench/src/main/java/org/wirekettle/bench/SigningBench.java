package org.wirekettle.bench;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PrivateKey;
import java.security.Signature;
import java.security.SignatureException;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;
import org.wirekettle.demo.Authority;
import org.wirekettle.soap.MessageSignature;
import org.wirekettle.soap.MessageSignature.KeyReference;
import org.wirekettle.soap.MessageSignature.Part;
import org.wirekettle.soap.Security;
import org.wirekettle.soap.SignatureCheck;

/** What security of messages costs: a UsernameToken, a signature over body and timestamp, its check; and RSA alone. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Fork(1)
@Warmup(iterations = 3, time = 2)
@Measurement(iterations = 5, time = 2)
public class SigningBench {
    private static final String BODY =
            "<n:Ask xmlns:n=\"urn:n\"><n:port>TLWRC</n:port><n:draught>7.5</n:draught></n:Ask>";

    private final Clock clock = Clock.systemUTC();
    private byte[] envelope;
    private byte[] secured;
    private byte[] signed;
    private Security security;
    private MessageSignature signature;
    private SignatureCheck check;
    private PrivateKey key;

    @Setup
    public void keys() throws GeneralSecurityException, IOException {
        KeyPairGenerator rsa = KeyPairGenerator.getInstance("RSA");
        rsa.initialize(2048);
        KeyPair pair = rsa.generateKeyPair();
        key = pair.getPrivate();
        X509Certificate certificate = new Authority().issue("gannet", pair);
        envelope = ("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<soap:Envelope"
                        + " xmlns:soap=\"http://schemas.xmlsoap.org/soap/envelope/\"><soap:Body>" + BODY
                        + "</soap:Body></soap:Envelope>")
                .getBytes(StandardCharsets.UTF_8);
        security = new Security(Security.Token.DIGEST, Duration.ofMinutes(5), "agency", "sole", "", clock);
        signature = new MessageSignature(
                key, certificate, EnumSet.of(Part.BODY, Part.TIMESTAMP), KeyReference.CERTIFICATE, "");
        check = new SignatureCheck(true, List.of(), c -> true, Duration.ofDays(1), clock);
        secured = security.secure(envelope).sent();
        signed = signature.sign(secured);
    }

    @Benchmark
    public Security.Secured usernameToken() {
        return security.secure(envelope);
    }

    @Benchmark
    public byte[] sign() throws IOException {
        return signature.sign(secured);
    }

    @Benchmark
    public Optional<String> check() {
        return check.problem(signed);
    }

    @Benchmark
    public byte[] rsaAlone() throws GeneralSecurityException, SignatureException {
        Signature s = Signature.getInstance("SHA256withRSA");
        s.initSign(key);
        s.update(secured);
        return s.sign();
    }
}
