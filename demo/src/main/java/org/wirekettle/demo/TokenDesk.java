package org.wirekettle.demo;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Base64;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** Gives tokens to the harbour's clients, and knows those it gave (OAuth 2.0 client credentials). */
final class TokenDesk {
    static final String CLIENT = "gannet";
    static final String SECRET = "sole-of-the-reach";
    private static final int LIFE_SECONDS = 300;
    private static final int TOKEN_BYTES = 18;

    private final Map<String, Instant> given = new ConcurrentHashMap<>();
    private final SecureRandom random = new SecureRandom();

    /** @param authorization the header of that name; may be null. @return a token's answer; null for none */
    String token(String authorization, String form) {
        String wanted =
                "Basic " + Base64.getEncoder().encodeToString((CLIENT + ":" + SECRET).getBytes(StandardCharsets.UTF_8));
        if (!wanted.equals(authorization) || !form.contains("grant_type=client_credentials")) {
            return null;
        }
        byte[] bytes = new byte[TOKEN_BYTES];
        random.nextBytes(bytes);
        String token = Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
        given.values().removeIf(until -> until.isBefore(Instant.now()));
        given.put(token, Instant.now().plusSeconds(LIFE_SECONDS));
        return "{\"access_token\":\"" + token + "\",\"token_type\":\"Bearer\",\"expires_in\":" + LIFE_SECONDS + "}";
    }

    /** @param authorization the header of that name; may be null */
    boolean isKnown(String authorization) {
        if (authorization == null || !authorization.startsWith("Bearer ")) {
            return false;
        }
        Instant until = given.get(authorization.substring("Bearer ".length()));
        return until != null && until.isAfter(Instant.now());
    }
}
