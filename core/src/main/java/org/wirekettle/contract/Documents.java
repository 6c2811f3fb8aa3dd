package org.wirekettle.contract;

import java.net.URI;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Where the reader gets files from: those at hand first, then, if there is one, from the network. */
public final class Documents {
    private final Map<String, byte[]> atHand = new LinkedHashMap<>();
    private final Fetch network;

    /** Fetches an absolute address; an answer in words when it cannot. */
    @FunctionalInterface
    public interface Fetch {
        /** @throws java.io.IOException when there is nothing to be had, with the reason in words */
        byte[] get(String uri) throws java.io.IOException;
    }

    public Documents(Fetch network) {
        this.network = network;
    }

    public static Documents of(Map<String, byte[]> files) {
        Documents out = new Documents(uri -> {
            throw new java.io.IOException("it is not among the files given");
        });
        out.atHand.putAll(files);
        return out;
    }

    public void add(String uri, byte[] bytes) {
        atHand.put(uri, bytes);
    }

    public byte[] get(String uri) throws java.io.IOException {
        byte[] here = atHand.get(uri);
        if (here == null) {
            here = byFileName(uri).map(atHand::get).orElse(null);
        }
        if (here == null) {
            here = network.get(uri);
            atHand.put(uri, here);
        }
        return here;
    }

    /** The address at which a reference is known: itself, or a file at hand with the same last name. */
    public String resolve(String base, String reference) {
        String uri = join(base, reference);
        return atHand.containsKey(uri) ? uri : byFileName(uri).orElse(uri);
    }

    public boolean isAtHand(String uri) {
        return atHand.containsKey(uri);
    }

    private Optional<String> byFileName(String uri) {
        String name = uri.substring(uri.lastIndexOf('/') + 1);
        return name.isEmpty() || uri.startsWith("http") && name.contains("?")
                ? Optional.empty()
                : atHand.keySet().stream()
                        .filter(k -> k.equals(name) || k.endsWith("/" + name))
                        .findFirst();
    }

    private static String join(String base, String reference) {
        String ref = reference.strip();
        try {
            if (ref.startsWith("?") && base.contains(":/")) {
                // RFC 3986 §5.2.2: the path stays; java.net.URI follows an older rule and drops its last segment.
                return base.replaceFirst("[?#].*$", "") + ref;
            }
            if (base.contains(":/")) {
                return URI.create(base)
                        .resolve(ref.replace(" ", "%20").replace('\\', '/'))
                        .toString();
            }
            String path = ref.replace('\\', '/');
            if (path.contains(":/")) {
                return path;
            }
            boolean absolute = base.startsWith("/");
            String joined = URI.create("file://" + (absolute ? "" : "/") + base.replace(" ", "%20"))
                    .resolve(path.replace(" ", "%20"))
                    .getPath();
            return joined == null ? ref : absolute ? joined : joined.substring(1);
        } catch (IllegalArgumentException e) {
            return ref;
        }
    }
}
