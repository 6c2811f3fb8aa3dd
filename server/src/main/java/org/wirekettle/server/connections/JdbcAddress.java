package org.wirekettle.server.connections;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The JDBC address of a database, taken apart.
 *
 * @param url without user and password
 * @param user the one in the address, or null
 * @param password the one in the address, or null
 * @param hosts where it leads, with ports; empty when the address does not say
 */
record JdbcAddress(String url, String user, String password, Set<String> hosts) {
    private static final String POSTGRES = "jdbc:postgresql:";
    /** What may be set in a PostgreSQL address: others load classes, read files or lead elsewhere. */
    private static final Set<String> SETTINGS = Set.of(
            "sslmode",
            "ssl",
            "currentSchema",
            "ApplicationName",
            "connectTimeout",
            "socketTimeout",
            "loginTimeout",
            "tcpKeepAlive",
            "targetServerType",
            "loadBalanceHosts",
            "prepareThreshold",
            "defaultRowFetchSize",
            "stringtype",
            "gssEncMode",
            "channelBinding");

    private static final Pattern OTHER_HOSTS = Pattern.compile("jdbc:[^/?;]*//([^/?;]+).*");
    private static final Pattern OTHER_LOGIN = Pattern.compile("(?i)([?;&])(user|username|uid|password|pwd)=([^;&]*)");

    boolean isPostgres() {
        return url.startsWith(POSTGRES);
    }

    /** The kind of database and where it is: what a password was given for. */
    String origin() {
        int scheme = url.indexOf(':', 5);
        return url.substring(0, scheme < 0 ? url.length() : scheme).toLowerCase(Locale.ROOT) + " "
                + String.join(",", hosts);
    }

    /** @throws IllegalArgumentException in words */
    static JdbcAddress of(String raw) {
        String address = raw.strip();
        if (!address.startsWith("jdbc:")) {
            throw new IllegalArgumentException("A database's address begins with jdbc:.");
        }
        return address.startsWith(POSTGRES) ? postgres(address) : other(address);
    }

    private static JdbcAddress postgres(String address) {
        int question = address.indexOf('?');
        String path = question < 0 ? address : address.substring(0, question);
        String user = null;
        String password = null;
        List<String> kept = new ArrayList<>();
        for (String setting :
                question < 0 ? new String[0] : address.substring(question + 1).split("&")) {
            String name = decoded(setting.contains("=") ? setting.substring(0, setting.indexOf('=')) : setting);
            String value = setting.contains("=") ? decoded(setting.substring(setting.indexOf('=') + 1)) : "";
            if (name.equals("user")) {
                user = value;
            } else if (name.equals("password")) {
                password = value;
            } else if (SETTINGS.contains(name)) {
                kept.add(setting);
            } else if (!setting.isEmpty()) {
                throw new IllegalArgumentException(
                        "The address has the setting " + name + ", which is not taken here. Those that are: "
                                + String.join(", ", new TreeSet<>(SETTINGS)) + ".");
            }
        }
        return new JdbcAddress(
                path + (kept.isEmpty() ? "" : "?" + String.join("&", kept)),
                user,
                password,
                hosts(path.substring(POSTGRES.length())));
    }

    private static Set<String> hosts(String path) {
        if (!path.startsWith("//")) {
            return Set.of("localhost:5432");
        }
        int slash = path.indexOf('/', 2);
        String authority = path.substring(2, slash < 0 ? path.length() : slash);
        if (authority.contains("@")) {
            throw new IllegalArgumentException(
                    "The address has an @ before the host; the user and the password have fields of their own.");
        }
        Set<String> out = new TreeSet<>();
        for (String host : authority.split(",")) {
            boolean hasPort = host.lastIndexOf(':') > host.lastIndexOf(']');
            out.add((host.isEmpty() || host.startsWith(":") ? "localhost" + host : host).toLowerCase(Locale.ROOT)
                    + (hasPort ? "" : ":5432"));
        }
        return out;
    }

    private static JdbcAddress other(String address) {
        String user = null;
        String password = null;
        Matcher login = OTHER_LOGIN.matcher(address);
        while (login.find()) {
            boolean isUser = login.group(2).toLowerCase(Locale.ROOT).startsWith("u");
            user = isUser ? login.group(3) : user;
            password = isUser ? password : login.group(3);
        }
        String url = OTHER_LOGIN
                .matcher(address)
                .replaceAll("$1")
                .replaceAll("([?;&])[;&]+", "$1")
                .replaceAll("[?;&]$", "");
        Matcher hosts = OTHER_HOSTS.matcher(url);
        return new JdbcAddress(
                url,
                user,
                password,
                hosts.matches()
                        ? new TreeSet<>(List.of(
                                hosts.group(1).replaceFirst("^[^@]*@", "").split(",")))
                        : Set.of());
    }

    private static String decoded(String s) {
        try {
            return URLDecoder.decode(s, StandardCharsets.UTF_8);
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("The address has a % that begins no escaped character.", e);
        }
    }
}
