package org.wirekettle.server.connections;

import java.net.URI;
import java.nio.charset.Charset;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.wirekettle.call.HttpLimits;
import org.wirekettle.call.HttpProxy;
import org.wirekettle.connector.queue.BrokerAddress;
import org.wirekettle.problem.Refused;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.trigger.QueueTrigger;
import org.wirekettle.xml.XmlElement;

/** What a connection must be like to be kept, and that its secrets stay with the places they were given for. */
final class ConnectionRules {
    private static final int MAX_ENVIRONMENTS = 20;
    private static final int MAX_NAME_CHARS = 40;
    private static final int MAX_ADDRESS_CHARS = 2_000;
    private static final int MAX_TEXT_CHARS = 500;
    private static final int MAX_FREE_CHARS = 20_000;
    private static final int MAX_VALUE_CHARS = 4_000;
    private static final int MAX_TIMEOUT_MILLIS = 24 * 3_600_000;
    private static final int MAX_TIMESTAMP_SECONDS = 24 * 3_600;
    private static final int MAX_RETRIES = 20;
    private static final int MAX_RETRY_WAIT_MILLIS = 60_000;
    private static final int MAX_FAILURES = 1_000;
    private static final int MAX_TRUSTED = 50;
    private static final int MAX_LISTED = 100;
    private static final int MAX_ANSWER_BYTES = 1024 * 1024 * 1024;
    private static final Set<String> LOG_INS =
            new TreeSet<>(Set.of("asked", "bearer", "digest", "key", "ntlm", "oauth", "query"));
    /** A token of RFC 9110 §5.6.2. */
    private static final Pattern HEADER = Pattern.compile("[A-Za-z0-9!#$%&'*+.^_`|~-]{1,100}");

    private static final Set<String> OWN_HEADERS = Set.of(
            "host",
            "content-length",
            "content-type",
            "content-encoding",
            "transfer-encoding",
            "connection",
            "expect",
            "soapaction",
            "user-agent");
    private static final Set<String> SIGNED = new TreeSet<>(Set.of("body", "timestamp", "token", "addressing"));
    private static final Set<String> KEY_REFERENCES = new TreeSet<>(Set.of("certificate", "issuer", "identifier"));
    private static final double MAX_RATE = 100_000;

    private ConnectionRules() {}

    /**
     * A connection as it is to be kept.
     *
     * @param secrets values that are given with it, by name
     */
    record Change(String kind, ConnectionSettings settings, Map<String, String> secrets) {}

    /** @throws Wrong in words, when it cannot be kept as it is */
    static Change checked(String name, Change in) {
        boolean isService = "soap".equals(in.kind());
        boolean isQueue = Connections.QUEUE.equals(in.kind());
        if (!isService && !isQueue && !"database".equals(in.kind())) {
            throw Wrong.input("connection.kind", "The kind is soap, database or queue.");
        }
        Map<String, Settings> all = in.settings().environments();
        if (all.values().stream()
                .allMatch(s -> s == null || s.url() == null || s.url().isBlank())) {
            throw Wrong.input("connection.url", "Give an address for at least one environment.");
        }
        if (all.size() > MAX_ENVIRONMENTS) {
            throw Wrong.input("connection.url", "A connection has at most " + MAX_ENVIRONMENTS + " environments.");
        }
        if (in.settings().common().url() != null) {
            throw Wrong.input("connection.url", "Addresses are those of environments.");
        }
        Change out = isService || isQueue ? in : withoutLogIns(name, in);
        for (String environment : out.settings().environments().keySet()) {
            Settings s = out.settings().in(environment);
            name(environment);
            limits(s);
            logIn(s);
            way(s);
            requests(s);
            messages(s);
            if (isService && s.url() != null && !s.url().isBlank()) {
                http(environment, s.url().strip());
            } else if (isQueue) {
                broker(environment, s);
            }
        }
        return out;
    }

    private static void broker(String environment, Settings s) {
        List<String> queues = s.lookedInto();
        if (queues.size() > MAX_LISTED || queues.stream().anyMatch(q -> q == null || !QueueTrigger.isName(q))) {
            throw Wrong.input(
                    "connection.queues",
                    "At most " + MAX_LISTED + " queues are looked into, each with a name of at most 200 characters.");
        }
        if (s.proxy() != null && !s.proxy().isBlank()) {
            throw Wrong.input("connection.proxy", "Brokers are reached without a proxy.");
        }
        if (s.url() != null && !s.url().isBlank()) {
            try {
                BrokerAddress.of(s.url());
            } catch (IllegalArgumentException e) {
                throw Wrong.input("connection.url", "The address for " + environment + ": " + e.getMessage());
            }
        }
    }

    private static void name(String environment) {
        if (environment == null || environment.isBlank() || environment.length() > MAX_NAME_CHARS) {
            throw Wrong.input(
                    "connection.environment", "An environment's name has 1 to " + MAX_NAME_CHARS + " characters.");
        }
    }

    private static void limits(Settings s) {
        range("Connect time-out", s.connectTimeoutMillis(), 1, MAX_TIMEOUT_MILLIS);
        range("Time without a sign of an answer", s.answerTimeoutMillis(), 1, MAX_TIMEOUT_MILLIS);
        range("Time for a call", s.callTimeoutMillis(), 1, MAX_TIMEOUT_MILLIS);
        range("Calls at a time", s.parallel(), 1, HttpLimits.MAX_PARALLEL);
        range("Retries", s.retries(), 0, MAX_RETRIES);
        range("Time before a retry", s.retryWaitMillis(), 1, MAX_RETRY_WAIT_MILLIS);
        range("Failures until all calls wait", s.opensAfter(), 1, MAX_FAILURES);
        if (s.retryOn() != null && s.retryOn().size() > MAX_LISTED) {
            throw Wrong.input("connection.limit", "At most " + MAX_LISTED + " failures are tried again.");
        }
        range("Bytes of an answer", s.maxAnswerBytes(), 1, MAX_ANSWER_BYTES);
        range("Seconds that a timestamp counts", s.timestampSeconds(), 1, MAX_TIMESTAMP_SECONDS);
        if (s.callsPerSecond() != null && !(s.callsPerSecond() > 0 && s.callsPerSecond() <= MAX_RATE)) {
            throw Wrong.input(
                    "connection.limit",
                    "Calls a second are more than 0 and at most " + (int) MAX_RATE + "; leave it empty for no limit.");
        }
        text("The user", s.user());
        text("The role", s.role());
        if (s.trusted().size() > MAX_TRUSTED || s.trusted().stream().anyMatch(Objects::isNull)) {
            throw Wrong.input("connection.trust", "At most " + MAX_TRUSTED + " certificates are named.");
        }
        if (Boolean.TRUE.equals(s.trustOnly()) && s.trusted().isEmpty()) {
            throw Wrong.input(
                    "connection.trust", "Name the certificates that count instead of the system's authorities.");
        }
    }

    private static void logIn(Settings s) {
        if (s.logIn() != null && !LOG_INS.contains(s.logIn())) {
            throw Wrong.input("connection.login", "A log-in goes as " + String.join(", ", LOG_INS) + ", or as Basic.");
        }
        text("The scope", s.scope());
        text("The audience", s.audience());
        text("The domain", s.domain());
        if ("key".equals(s.logIn())) {
            header(s.keyName(), "Name the header that carries the key, such as X-Api-Key.");
        }
        if ("query".equals(s.logIn()) && (s.keyName() == null || s.keyName().isBlank())) {
            throw Wrong.input("connection.login", "Name the parameter of the address that carries the key.");
        }
        text("The parameter", s.keyName());
        if ("oauth".equals(s.logIn())) {
            if (s.tokenUrl() == null || s.tokenUrl().isBlank()) {
                throw Wrong.input("connection.login", "Give the address where tokens are had.");
            }
            http("tokens", s.tokenUrl().strip());
        }
    }

    private static void header(@Nullable String name, String otherwise) {
        if (name == null || !HEADER.matcher(name).matches()) {
            throw Wrong.input("connection.login", otherwise);
        }
        if (OWN_HEADERS.contains(name.toLowerCase(Locale.ROOT))) {
            throw Wrong.input("connection.login", "The header " + name + " has a meaning of its own.");
        }
    }

    /** How calls get there. */
    private static void way(Settings s) {
        if (s.proxy() != null) {
            checkLength("the proxy", s.proxy());
            try {
                HttpProxy.of(s.proxy(), null, null, List.of());
            } catch (IllegalArgumentException e) {
                throw Wrong.input("connection.proxy", e.getMessage() + ".");
            }
        }
        text("The proxy's user", s.proxyUser());
        List<String> except = s.proxyExcept() == null ? List.of() : s.proxyExcept();
        if (except.size() > MAX_LISTED) {
            throw Wrong.input("connection.proxy", "At most " + MAX_LISTED + " hosts are called without the proxy.");
        }
        except.forEach(e -> text("A host", Objects.requireNonNullElse(e, "\u0000")));
        if (s.lowestTls() != null && !s.lowestTls().matches("1\\.[23]")) {
            throw Wrong.input(
                    "connection.tls", "The lowest TLS version is 1.2 or 1.3: older ones are spoken by nobody safely.");
        }
    }

    private static void requests(Settings s) {
        text("The user agent", s.userAgent());
        if (s.headers() != null && s.headers().size() > MAX_LISTED) {
            throw Wrong.input("connection.header", "A connection adds at most " + MAX_LISTED + " headers.");
        }
        for (Settings.OwnHeader h : s.ownHeaders()) {
            header(h.name(), "A header's name has letters, digits and some signs, and no spaces.");
            if (h.xpath() != null && h.xpath().length() > MAX_VALUE_CHARS) {
                throw Wrong.input(
                        "connection.header",
                        "The expression of the header " + h.name() + " has at most " + MAX_VALUE_CHARS
                                + " characters.");
            }
            if (h.value() != null
                    && (h.value().length() > MAX_VALUE_CHARS
                            || h.value().chars().anyMatch(Character::isISOControl))) {
                throw Wrong.input(
                        "connection.header",
                        "The header " + h.name() + " has at most " + MAX_VALUE_CHARS
                                + " characters, and no control characters.");
            }
        }
        if (s.charset() != null && !isCharset(s.charset())) {
            throw Wrong.input(
                    "connection.charset",
                    "“" + s.charset() + "” is no encoding that is known here, such as ISO-8859-1.");
        }
    }

    /** Each block says its namespace (SOAP 1.1 §4.2, SOAP 1.2 part 1 §5.2). */
    private static void freeHeaders(@Nullable String xml) {
        if (blank(xml)) {
            return;
        }
        if (xml.length() > MAX_FREE_CHARS) {
            throw Wrong.input("connection.header", "Free headers have at most " + MAX_FREE_CHARS + " characters.");
        }
        XmlElement all;
        try {
            all = XmlElement.parse("headers", "<headers>" + xml + "</headers>");
        } catch (Refused e) {
            throw Wrong.input("connection.header", "The free headers: " + e.getMessage());
        }
        if (!all.ownText().isBlank()
                || all.children().stream().anyMatch(e -> e.namespace().isEmpty())) {
            throw Wrong.input(
                    "connection.header",
                    "Free headers are elements, each in a namespace, such as <t:Trace xmlns:t=\"urn:trace\">1</t:Trace>.");
        }
        if (all.children().stream()
                .anyMatch(e -> e.name().equals("Envelope") || e.name().equals("Header"))) {
            throw Wrong.input(
                    "connection.header",
                    "Give only what stands inside the Header, not the Envelope or the Header itself.");
        }
    }

    private static void signature(Settings s) {
        if (!SIGNED.containsAll(s.toSign())) {
            throw Wrong.input("connection.signature", "What is signed is " + String.join(", ", SIGNED) + ".");
        }
        if (!s.toSign().isEmpty() && blank(s.signsWith())) {
            throw Wrong.input("connection.signature", "Choose the certificate that requests are signed with.");
        }
        if (s.keyReference() != null && !KEY_REFERENCES.contains(s.keyReference())) {
            throw Wrong.input("connection.signature", "A key is named by " + String.join(", ", KEY_REFERENCES) + ".");
        }
        if (s.signedAnswers() != null && !s.signedAnswers().matches("present|required")) {
            throw Wrong.input(
                    "connection.signature", "Signatures of answers are checked where present, or are required.");
        }
        range("Seconds that clocks may be apart", s.skewSeconds(), 0, MAX_TIMESTAMP_SECONDS);
    }

    private static void messages(Settings s) {
        signature(s);
        freeHeaders(s.freeHeaders());
        if (s.attachments() != null && !s.attachments().matches("mtom|parts")) {
            throw Wrong.input(
                    "connection.attachments", "Files go with requests as mtom or parts, or inside the message.");
        }
        rows(s.messageRows());
        Settings.SessionSettings session = s.session();
        if (session == null) {
            return;
        }
        rows(session.rows());
        if (blank(session.contract()) || blank(session.operation())) {
            throw Wrong.input("connection.session", "Choose the operation that begins a session.");
        }
        if (blank(session.token()) || session.token().length() > MAX_VALUE_CHARS) {
            throw Wrong.input(
                    "connection.session",
                    "Say where in the answer the session's token is, such as $reply/sessionId, in at most "
                            + MAX_VALUE_CHARS + " characters.");
        }
        List<String> again = session.again() == null ? List.of() : session.again();
        if (again.size() > MAX_LISTED || again.stream().anyMatch(Objects::isNull)) {
            throw Wrong.input("connection.session", "At most " + MAX_LISTED + " failures end a session.");
        }
    }

    private static void rows(List<Settings.MessageRow> rows) {
        if (rows.size() > MAX_LISTED) {
            throw Wrong.input("connection.message", "At most " + MAX_LISTED + " rows are filled for every call.");
        }
        for (Settings.MessageRow r : rows) {
            if (r == null || blank(r.path()) || r.path().length() > MAX_TEXT_CHARS) {
                throw Wrong.input(
                        "connection.message", "A row has a path, of at most " + MAX_TEXT_CHARS + " characters.");
            }
            for (String value : new String[] {r.text(), r.xpath()}) {
                if (value != null && value.length() > MAX_VALUE_CHARS) {
                    throw Wrong.input(
                            "connection.message",
                            "The row " + r.path() + " has more than " + MAX_VALUE_CHARS + " characters.");
                }
            }
        }
    }

    private static boolean blank(@Nullable String s) {
        return s == null || s.isBlank();
    }

    private static boolean isCharset(String name) {
        try {
            return Charset.forName(name).canEncode();
        } catch (IllegalArgumentException e) {
            return false;
        }
    }

    private static void range(String what, Integer value, int least, int most) {
        if (value != null && (value < least || value > most)) {
            throw Wrong.input("connection.limit", what + " is from " + least + " to " + most + ", not " + value + ".");
        }
    }

    private static void text(String what, String value) {
        if (value != null && (value.length() > MAX_TEXT_CHARS || value.chars().anyMatch(Character::isISOControl))) {
            throw Wrong.input(
                    "connection.text",
                    what + " has at most " + MAX_TEXT_CHARS + " characters, and no control characters.");
        }
    }

    private static void http(String environment, String url) {
        checkLength(environment, url);
        URI uri;
        try {
            uri = URI.create(url.replace(" ", "%20"));
        } catch (IllegalArgumentException e) {
            throw Wrong.input("connection.url", "The address for " + environment + " is none: " + e.getMessage());
        }
        if (!url.matches("(?i)https?://.+") || uri.getHost() == null) {
            throw Wrong.input(
                    "connection.url",
                    "The address for " + environment + " must begin with http:// or https:// and name a host.");
        }
        if (uri.getRawUserInfo() != null) {
            throw Wrong.input(
                    "connection.url",
                    "The address for " + environment
                            + " has a log-in before its host; it has fields of its own, where it is kept encrypted.");
        }
    }

    private static void checkLength(String what, String url) {
        if (url.length() > MAX_ADDRESS_CHARS) {
            throw Wrong.input(
                    "connection.url",
                    "The address for " + what + " has more than the " + MAX_ADDRESS_CHARS + " characters it may have.");
        }
    }

    /** A log-in inside a database's address is taken out of it: addresses are shown. */
    private static Change withoutLogIns(String name, Change in) {
        ConnectionSettings settings = in.settings();
        Map<String, String> secrets = new LinkedHashMap<>(in.secrets());
        for (Map.Entry<String, Settings> e : in.settings().environments().entrySet()) {
            String url = e.getValue() == null ? null : e.getValue().url();
            if (url == null || url.isBlank()) {
                continue;
            }
            checkLength(e.getKey(), url);
            try {
                JdbcAddress a = JdbcAddress.of(url);
                settings = settings.changing(e.getKey(), "url", a.url());
                Settings s = settings.in(e.getKey());
                if (a.user() != null && (s.user() == null || s.user().isBlank())) {
                    settings = settings.changing(e.getKey(), "user", a.user());
                }
                if (a.password() != null && s.secret() == null) {
                    settings = settings.changing(e.getKey(), "secret", name);
                    secrets.put(name, a.password());
                }
            } catch (IllegalArgumentException x) {
                throw Wrong.input("connection.url", "The address for " + e.getKey() + ": " + x.getMessage());
            }
        }
        return new Change(in.kind(), settings, secrets);
    }

    /** Without passwords that an earlier version kept in addresses. */
    static ConnectionSettings shown(ConnectionSettings s) {
        ConnectionSettings out = s;
        for (Map.Entry<String, Settings> e : s.environments().entrySet()) {
            String url = e.getValue().url();
            if (url != null && url.startsWith("jdbc:")) {
                out = out.changing(e.getKey(), "url", withoutLogIn(url));
            }
        }
        return out;
    }

    private static String withoutLogIn(String url) {
        try {
            return JdbcAddress.of(url).url();
        } catch (IllegalArgumentException e) {
            return url.replaceFirst("[?;].*", "");
        }
    }

    /**
     * Secrets go only where they were meant to go.
     *
     * @param known where each may go, by its name
     * @return places that secrets whose values are given anew go to from now on
     * @throws Wrong when one leads to a place it was not given for
     */
    static Map<String, Set<String>> checkPlaces(Change wanted, Map<String, Set<String>> known) {
        Map<String, Set<String>> out = new TreeMap<>();
        wanted.secrets().keySet().forEach(n -> out.put(n, new TreeSet<>()));
        SecretPlaces.of(wanted.settings()).forEach((secret, places) -> {
            if (wanted.secrets().containsKey(secret)) {
                out.get(secret).addAll(places);
                return;
            }
            Set<String> may = known.getOrDefault(secret, Set.of());
            for (String place : places) {
                if (!may.contains(place)) {
                    throw Wrong.input(
                            "connection.secret",
                            "The secret " + secret + " would go to " + place + ", which it was not given for. Give its"
                                    + " value again, so that it does not go where it was not meant to go; or name"
                                    + " another one.");
                }
            }
        });
        return out;
    }
}
