package org.wirekettle.server.connections;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Settings of a connection: those all environments share, or those of one environment. What is null is the other's, or
 * the default.
 *
 * @param url an http(s) address, or a JDBC one for databases; of an environment only
 * @param connectTimeoutMillis null for 5 s
 * @param answerTimeoutMillis of silence; null for the whole call's
 * @param callTimeoutMillis for a whole call; null for 30 s
 * @param secret the name of the one that goes with the user: a password, a token, a key
 * @param logIn how the log-in goes over HTTP: {@code asked}, {@code digest}, {@code ntlm}, {@code bearer}, {@code key},
 *     {@code query}, {@code oauth}; null for Basic, or where {@code token} says otherwise
 * @param token {@code text} or {@code digest} for a WS-Security UsernameToken; null for none
 * @param domain of an account of NTLM
 * @param keyName the header, or the query parameter, that carries a key
 * @param tokenUrl where OAuth 2 tokens are had
 * @param scope what they are to allow
 * @param audience whom they are for
 * @param proxy host and port; null for the straight way
 * @param proxySecret the name of the one that goes with the proxy's user
 * @param proxyExcept hosts that are called without it
 * @param trust names of certificates that are believed
 * @param trustOnly whether only those count, and not the system's
 * @param ownCertificate the name of the one that we show
 * @param lowestTls {@code 1.2} or {@code 1.3}; null for 1.2
 * @param anyName whether a certificate counts that is for another host
 * @param headers further ones of each request
 * @param packed whether requests are sent packed (gzip)
 * @param chunked whether they are sent in chunks instead of with their length
 * @param announced whether the service is asked first whether it wants the request
 * @param redirects whether they are followed
 * @param closing whether each call has a network connection of its own
 * @param cookies whether the service's are sent back to it
 * @param charset the encoding of requests; null for UTF-8
 * @param addressing whether requests carry WS-Addressing headers; null for not
 * @param timestamp whether requests carry a WS-Security timestamp; null for not
 * @param timestampSeconds how long it counts; null for 5 min
 * @param signedParts {@code body}, {@code timestamp}, {@code token}, {@code addressing}; null for no signature
 * @param signingCertificate the name of one of ours; null for the one that we show
 * @param keyReference {@code certificate}, {@code issuer} or {@code identifier}; null for the first
 * @param signedAnswers {@code present} or {@code required}: whether signatures of answers are checked; null for not
 * @param skewSeconds how far the clocks may be apart; null for 5 min
 * @param mustUnderstand whether the headers it adds must be understood; null for those of security only
 * @param role whom these headers are for; null for the last receiver
 * @param messageHeaders rows of header blocks of a contract, filled once for every call
 * @param session the operation that hands out what those rows name as {@code $login/token}
 * @param freeHeaders header blocks of each SOAP message, as XML
 * @param attachments how files go with requests: {@code mtom}, or {@code parts}; null for inside the message
 * @param answerFiles whether parts of answers are put into files instead of into the message
 * @param parallel calls at a time; null for 8
 * @param callsPerSecond null for no limit
 * @param retries further attempts of calls that did not reach the service; null for 2
 * @param retryWaitMillis before the first of them, doubled each time; null for 200 ms
 * @param retryOn codes of failures that are tried again; null for {@code unreachable}, {@code HTTP 429}, {@code HTTP
 *     503}
 * @param opensAfter calls in a row that do not reach the service, after which all wait; null for never
 * @param maxAnswerBytes null for 32 MB
 * @param queues names of those that people look into
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Settings(
        @Nullable String url,
        Integer connectTimeoutMillis,
        Integer answerTimeoutMillis,
        Integer callTimeoutMillis,
        @Nullable String user,
        @Nullable String secret,
        @Nullable String logIn,
        @Nullable String token,
        @Nullable String domain,
        @Nullable String keyName,
        @Nullable String tokenUrl,
        @Nullable String scope,
        @Nullable String audience,
        @Nullable String proxy,
        @Nullable String proxyUser,
        @Nullable String proxySecret,
        @Nullable List<String> proxyExcept,
        @Nullable List<String> trust,
        Boolean trustOnly,
        @Nullable String ownCertificate,
        @Nullable String lowestTls,
        Boolean anyName,
        @Nullable List<OwnHeader> headers,
        Boolean packed,
        Boolean chunked,
        Boolean announced,
        Boolean redirects,
        Boolean closing,
        Boolean cookies,
        @Nullable String charset,
        @Nullable String userAgent,
        Boolean addressing,
        Boolean timestamp,
        Integer timestampSeconds,
        @Nullable List<String> signedParts,
        @Nullable String signingCertificate,
        @Nullable String keyReference,
        @Nullable String signedAnswers,
        Integer skewSeconds,
        Boolean mustUnderstand,
        @Nullable String role,
        @Nullable List<MessageRow> messageHeaders,
        @Nullable SessionSettings session,
        @Nullable String freeHeaders,
        @Nullable String attachments,
        Boolean answerFiles,
        Integer parallel,
        Double callsPerSecond,
        Integer retries,
        Integer retryWaitMillis,
        @Nullable List<String> retryOn,
        Integer opensAfter,
        Integer maxAnswerBytes,
        @Nullable List<String> queues) {
    /**
     * A header of each request: with a fixed value, with a secret, or computed.
     *
     * @param secret the name of one; null for the value
     * @param xpath an expression over the record of the call, if there is one
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record OwnHeader(
            String name,
            @Nullable String value,
            @Nullable String secret,
            @Nullable String xpath) {
        boolean hasExpression() {
            return xpath != null && !xpath.isBlank();
        }
    }

    /**
     * A row of a message, filled for every call: with a fixed text, an expression or a secret.
     *
     * @param path as in a fill
     * @param secret the name of one
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record MessageRow(
            String path,
            @Nullable String text,
            @Nullable String xpath,
            @Nullable String secret) {}

    /**
     * A log-in operation whose answer has what other operations want to be told.
     *
     * @param port null for the contract's first that can be called
     * @param fill of its request
     * @param token an expression over its answer, {@code $reply}
     * @param again codes of failures that say that the session has ended
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record SessionSettings(
            String contract,
            @Nullable String port,
            String operation,
            @Nullable List<MessageRow> fill,
            @Nullable String token,
            @Nullable List<String> again) {
        List<MessageRow> rows() {
            return fill == null ? List.of() : fill;
        }
    }

    List<MessageRow> messageRows() {
        return messageHeaders == null ? List.of() : messageHeaders;
    }

    List<OwnHeader> ownHeaders() {
        return headers == null ? List.of() : headers;
    }

    /** Headers that are computed for each call. */
    public List<OwnHeader> computedHeaders() {
        return ownHeaders().stream().filter(OwnHeader::hasExpression).toList();
    }

    List<String> toSign() {
        return signedParts == null ? List.of() : signedParts;
    }

    /** The name of the certificate that requests are signed with; null for none. */
    @Nullable
    String signsWith() {
        return signingCertificate == null || signingCertificate.isBlank() ? ownCertificate : signingCertificate;
    }

    List<String> lookedInto() {
        return queues == null ? List.of() : queues;
    }

    List<String> trusted() {
        return trust == null ? List.of() : trust;
    }
}
