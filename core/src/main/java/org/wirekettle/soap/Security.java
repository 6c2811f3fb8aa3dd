package org.wirekettle.soap;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Base64;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.xml.Escape;

/**
 * Adds a WS-Security header to requests: a UsernameToken and a timestamp (WSS UsernameToken Profile 1.1 §3.1, WSS 1.1
 * §10). Shareable.
 */
public final class Security {
    /** How the password travels. */
    public enum Token {
        NONE,
        TEXT,
        DIGEST
    }

    private static final String OASIS = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-";
    private static final int NONCE_BYTES = 16;
    private static final byte[] NO_NONCE = {};
    private static final String MASK = SecretValues.SHOWN_AS;
    private static final Pattern HEADER = Pattern.compile("<(?:[\\w.-]+:)?Header(?:\\s[^>]*)?(/?)>");
    private static final Pattern BODY = Pattern.compile("<((?:[\\w.-]+:)?)Body[\\s/>]");
    private static final Pattern PASSWORD = Pattern.compile("(<wsse:Password\\b[^>]*>)[^<]*");
    private static final SecureRandom RANDOM = new SecureRandom();

    private final Token token;
    private final boolean timestamp;
    private final Duration life;
    private final String password;
    private final String escapedUser;
    private final String escapedPassword;
    private final String opening;
    private final Clock clock;

    /**
     * @param life how long the timestamp counts; null for no timestamp
     * @param password null is taken as empty
     * @param attributes of the header block, as {@link SoapVersion#headerAttributes} writes them
     */
    public Security(Token token, Duration life, String user, String password, String attributes, Clock clock) {
        this.opening = "<wsse:Security xmlns:wsse=\"" + OASIS + "wssecurity-secext-1.0.xsd\" xmlns:wsu=\"" + OASIS
                + "wssecurity-utility-1.0.xsd\"" + attributes + ">";
        this.token = user == null ? Token.NONE : token;
        this.timestamp = life != null;
        this.life = life;
        this.escapedUser = user == null ? "" : Escape.xml(user);
        this.password = password == null ? "" : password;
        this.escapedPassword = Escape.xml(this.password);
        this.clock = clock;
    }

    /**
     * A request with its header.
     *
     * @param sent what goes over the wire
     * @param shown the same without the password or its digest, for trails and logs
     */
    public record Secured(byte[] sent, byte[] shown) {}

    /** A request that carries a header of this kind, as it may be shown: without the password or its digest. */
    public static byte[] shown(byte[] sent) {
        return PASSWORD.matcher(new String(sent, StandardCharsets.UTF_8))
                .replaceAll("$1" + MASK)
                .getBytes(StandardCharsets.UTF_8);
    }

    /** A fresh header each time: services refuse a nonce they have seen, and a timestamp that is old. */
    public Secured secure(byte[] envelope) {
        String now = clock.instant().truncatedTo(ChronoUnit.MILLIS).toString();
        byte[] nonce = NO_NONCE;
        if (token == Token.DIGEST) {
            nonce = new byte[NONCE_BYTES];
            RANDOM.nextBytes(nonce);
        }
        String secret = token == Token.DIGEST ? digest(nonce, now, password) : escapedPassword;
        String before = block(now, nonce);
        String sent = before.replace(MASK, secret);
        int body = asWeWriteIt(envelope);
        if (body > 0) {
            return new Secured(inserted(envelope, body, sent), inserted(envelope, body, before));
        }
        String text = new String(envelope, StandardCharsets.UTF_8);
        return new Secured(inserted(text, sent), inserted(text, before));
    }

    /**
     * Envelopes of ours without a header are most of all: there nothing has to be searched.
     *
     * @return where the Body begins; 0 for other envelopes
     */
    private static int asWeWriteIt(byte[] envelope) {
        for (byte[] start : Envelopes.HEADLESS) {
            if (envelope.length > start.length
                    && java.util.Arrays.equals(envelope, 0, start.length, start, 0, start.length)) {
                return start.length - Envelopes.BODY_TAG.length();
            }
        }
        return 0;
    }

    private static byte[] inserted(byte[] envelope, int body, String block) {
        byte[] header = ("<soap:Header>" + block + "</soap:Header>").getBytes(StandardCharsets.UTF_8);
        byte[] out = java.util.Arrays.copyOf(envelope, envelope.length + header.length);
        System.arraycopy(header, 0, out, body, header.length);
        System.arraycopy(envelope, body, out, body + header.length, envelope.length - body);
        return out;
    }

    /** With the password masked. */
    private String block(String now, byte[] nonce) {
        StringBuilder out = new StringBuilder(1_024).append(opening);
        if (timestamp) {
            out.append("<wsu:Timestamp><wsu:Created>")
                    .append(now)
                    .append("</wsu:Created><wsu:Expires>")
                    .append(Instant.parse(now).plus(life))
                    .append("</wsu:Expires></wsu:Timestamp>");
        }
        if (token != Token.NONE) {
            out.append("<wsse:UsernameToken><wsse:Username>")
                    .append(escapedUser)
                    .append("</wsse:Username><wsse:Password Type=\"")
                    .append(OASIS)
                    .append("username-token-profile-1.0#Password")
                    .append(token == Token.DIGEST ? "Digest" : "Text")
                    .append("\">")
                    .append(MASK)
                    .append("</wsse:Password>");
            if (token == Token.DIGEST) {
                out.append("<wsse:Nonce EncodingType=\"")
                        .append(OASIS)
                        .append("soap-message-security-1.0#Base64Binary\">")
                        .append(Base64.getEncoder().encodeToString(nonce))
                        .append("</wsse:Nonce>");
            }
            out.append("<wsu:Created>").append(now).append("</wsu:Created></wsse:UsernameToken>");
        }
        return out.append("</wsse:Security>").toString();
    }

    /** Base64(SHA-1(nonce + created + password)), as the profile has it (§3.1). */
    static String digest(byte[] nonce, String created, String password) {
        try {
            MessageDigest sha = MessageDigest.getInstance("SHA-1");
            sha.update(nonce);
            sha.update(created.getBytes(StandardCharsets.UTF_8));
            return Base64.getEncoder().encodeToString(sha.digest(password.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-1", e);
        }
    }

    private static byte[] inserted(String envelope, String block) {
        Matcher body = BODY.matcher(envelope);
        if (!body.find()) {
            return envelope.getBytes(StandardCharsets.UTF_8);
        }
        Matcher header = HEADER.matcher(envelope).region(0, body.start());
        String whole = header.find()
                ? header.group(1).isEmpty()
                        ? envelope.substring(0, header.end()) + block + envelope.substring(header.end())
                        : envelope.substring(0, header.end() - 2) + ">" + block + "</" + body.group(1) + "Header>"
                                + envelope.substring(header.end())
                : envelope.substring(0, body.start()) + "<" + body.group(1) + "Header>" + block + "</" + body.group(1)
                        + "Header>" + envelope.substring(body.start());
        return whole.getBytes(StandardCharsets.UTF_8);
    }
}
