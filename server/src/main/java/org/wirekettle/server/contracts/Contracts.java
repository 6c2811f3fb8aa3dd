package org.wirekettle.server.contracts;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.transaction.Transactional;
import java.io.IOException;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.wirekettle.call.DocumentFetch;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.call.HttpSettings;
import org.wirekettle.contract.Archive;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.DescriptionReader;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.http.HandMade;
import org.wirekettle.contract.http.HandMadeWriter;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.problem.Severity;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.CertificateStore;
import org.wirekettle.server.connections.Connections;

/** The project's contracts. Recently used ones are kept in memory, by name and version. */
@ApplicationScoped
public class Contracts {
    /** Answers that are no description: a page, a fault, an error's status. */
    private static final Set<String> ASKING_HELPS =
            Set.of("wsdl.unavailable", "wsdl.root", "xml.malformed", "xml", "xml.empty", "xml.unreadable", "xml.none");
    /** Contracts kept in memory; a large one takes some 50 MB. */
    private static final int MAX_CACHED = 24;

    private final ContractMapper rows;
    private final Json json;
    private final Connections connections;
    private final DocumentFetch web;
    private final UseMapper uses;
    private final Map<String, Contract> cache = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Contract> eldest) {
            return size() > MAX_CACHED;
        }
    };

    /** What lists show. */
    public record Summary(
            List<String> services,
            int ports,
            int operations,
            int unusable,
            int warnings,
            int errors,
            List<String> protocols) {}

    /**
     * How a description is to be read and kept.
     *
     * @param name null for its own
     * @param connection whose log-in fetches it; null for none
     * @param refusesRepairs whether a description that would have to be repaired is refused
     */
    public record Wish(String name, String connection, boolean refusesRepairs) {}

    /**
     * @param isNew false when the same files are already there as that version
     * @param said what else was done to get it; null for nothing
     */
    public record Stored(String name, int version, boolean isNew, String said) {}

    Contracts(
            ContractMapper rows,
            Json json,
            Connections connections,
            HostPolicy policy,
            UseMapper uses,
            CertificateStore certificates) {
        this.uses = uses;
        this.rows = rows;
        this.json = json;
        this.connections = connections;
        this.web = new DocumentFetch(policy, certificates::forImports);
    }

    public Optional<Contract> find(String name) {
        return find(name, null);
    }

    /** @param version null for the current one */
    public Optional<Contract> find(String name, Integer version) {
        Integer wanted = version;
        if (wanted == null) {
            ContractMapper.Row row = rows.get(name);
            if (row == null) {
                return Optional.empty();
            }
            wanted = row.version;
        }
        String key = name + "@" + wanted;
        synchronized (cache) {
            if (cache.containsKey(key)) {
                return Optional.of(cache.get(key));
            }
        }
        Map<String, byte[]> files = new LinkedHashMap<>();
        rows.files(name, wanted).forEach(f -> files.put(f.uri, f.bytes));
        if (files.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(
                keep(key, DescriptionReader.read(files.keySet().iterator().next(), Documents.of(files))));
    }

    private Contract keep(String key, Contract c) {
        synchronized (cache) {
            cache.put(key, c);
        }
        return c;
    }

    public Contract get(String name) {
        return get(name, null);
    }

    public Contract get(String name, Integer version) {
        return find(name, version)
                .orElseThrow(() -> version == null
                        ? Wrong.notFound("contract", name)
                        : Wrong.notFound("version", version + " of " + name));
    }

    /** The number of the version that new work uses. */
    public Optional<Integer> currentVersion(String name) {
        return Optional.ofNullable(rows.get(name)).map(r -> r.version);
    }

    /** Reads a description from an address; its imports follow. Nothing is stored when it cannot be read. */
    public Stored importFrom(String url, Wish wish) {
        String address = url.strip();
        try {
            return store(fetch(address, wish.connection(), wish.name()), address, wish);
        } catch (Refused refused) {
            if (address.contains("?") || !ASKING_HELPS.contains(refused.code())) {
                throw refused;
            }
            return importByAsking(address + "?wsdl", wish, refused);
        }
    }

    /** Many services give their description only when it is asked for. */
    private Stored importByAsking(String address, Wish wish, Refused before) {
        Contract read;
        try {
            read = fetch(address, wish.connection(), wish.name());
        } catch (Refused again) {
            before.addSuppressed(again);
            throw before;
        }
        Stored s = store(read, address, wish);
        return new Stored(
                s.name(),
                s.version(),
                s.isNew(),
                "The address itself gives no description; it was asked for with ?wsdl.");
    }

    /** Fetches what a contract was read from once more, without storing it. */
    public Contract fetchAgain(String name) {
        ContractMapper.Row row = rows.get(name);
        if (row == null) {
            throw Wrong.notFound("contract", name);
        }
        if (!row.source.matches("(?i)https?://.*")) {
            throw Wrong.input(
                    "contract.source",
                    name
                            + " was read from files, not from an address. Import the new files under its name; they"
                            + " are compared then.");
        }
        return fetch(row.source, row.connection, name);
    }

    public void compared(String name, String outcome) {
        rows.compared(name, outcome);
    }

    /** @param name of the contract that may have files the source lacks, since they were added by hand; may be null */
    private Contract fetch(String url, String connection, String name) {
        HttpSettings login = connection == null || connection.isBlank() ? null : connections.http(connection, null);
        if (login != null && login.hasLogIn() && !connections.isFor(connection, url)) {
            throw Wrong.input(
                    "contract.login",
                    "The log-in of the connection " + connection
                            + " was given for another place than this address; it is not sent there. "
                            + "Import without it, or choose a connection for that place.");
        }
        return DescriptionReader.read(url, new Documents(uri -> {
            try {
                // What the description imports from elsewhere is fetched without the log-in.
                return web.get(uri, login == null || !DocumentFetch.isSameOrigin(uri, url) ? null : login);
            } catch (IOException e) {
                Optional<byte[]> added = uri.equals(url) ? Optional.empty() : addedByHand(name, uri);
                if (added.isPresent()) {
                    return added.get();
                }
                throw e;
            }
        }));
    }

    private Optional<byte[]> addedByHand(String name, String uri) {
        String file = uri.substring(uri.lastIndexOf('/') + 1);
        return name == null || file.isEmpty()
                ? Optional.empty()
                : currentVersion(name)
                        .flatMap(v -> rows.files(name, v).stream()
                                .filter(f -> f.uri.equals(file) || f.uri.equals(uri))
                                .findFirst())
                        .map(f -> f.bytes);
    }

    /** Reads a description from files given, archives among them; the root is the WSDL that has the service. */
    public Stored importFiles(Map<String, byte[]> files, String source, Wish wish) {
        Map<String, byte[]> all = unpacked(files);
        return store(DescriptionReader.read(Archive.root(all), documents(all)), source, wish);
    }

    /** Keeps operations made by hand, as a new version where they were changed. */
    public Stored keepHandMade(String name, HandMade made) {
        Optional<Contract> before = find(name);
        if (before.isPresent() && HandMade.of(before.get()).isEmpty()) {
            throw Wrong.input(
                    "contract.by-hand",
                    name + " was read from a description; that is changed at its source. Choose another name.");
        }
        Map<String, byte[]> files = Map.of(HandMade.DOCUMENT, HandMadeWriter.write(name, made));
        return store(
                DescriptionReader.read(HandMade.DOCUMENT, Documents.of(files)), "by hand", new Wish(name, null, false));
    }

    /** Adds files that were missing; the contract is read again with them, as a new version. */
    public Stored addFiles(String name, Map<String, byte[]> files) {
        ContractMapper.Row row = rows.get(name);
        if (row == null) {
            throw Wrong.notFound("contract", name);
        }
        Map<String, byte[]> all = new LinkedHashMap<>();
        rows.files(name, row.version).forEach(f -> all.put(f.uri, f.bytes));
        int before = all.size();
        String root = all.keySet().iterator().next();
        unpacked(files).forEach(all::putIfAbsent);
        Contract read = DescriptionReader.read(root, documents(all));
        if (read.documents().size() == before) {
            throw Wrong.input(
                    "contract.files",
                    "None of these files is asked for by the description. Wanted are: "
                            + String.join(
                                    "; ",
                                    read.notes().stream()
                                            .filter(n -> n.code().equals("wsdl.missing")
                                                    || n.code().equals("schema.missing"))
                                            .map(Problem::text)
                                            .distinct()
                                            .toList()));
        }
        return store(read, row.source, new Wish(name, row.connection, false));
    }

    private static Map<String, byte[]> unpacked(Map<String, byte[]> files) {
        Map<String, byte[]> all = new LinkedHashMap<>();
        files.forEach((file, bytes) -> {
            if (Archive.isZip(bytes)) {
                all.putAll(Archive.unpack(file, bytes));
            } else {
                all.put(file, bytes);
            }
        });
        return all;
    }

    private Documents documents(Map<String, byte[]> files) {
        Documents documents = new Documents(uri -> {
            if (uri.startsWith("http://") || uri.startsWith("https://")) {
                return web.get(uri);
            }
            throw new IOException("it is not among the files given");
        });
        files.forEach(documents::add);
        return documents;
    }

    private Stored store(Contract read, String source, Wish wish) {
        if (wish.refusesRepairs()) {
            refuseRepairs(read);
        }
        String name = (wish.name() == null || wish.name().isBlank()
                        ? read.name()
                        : wish.name().strip())
                .replaceAll("[/\\\\?#%]", "-");
        Optional<Integer> current = currentVersion(name);
        if (current.isPresent() && same(rows.files(name, current.get()), read.documents())) {
            return new Stored(name, current.get(), false, null);
        }
        int version = put(name, source, wish.connection(), read);
        keep(name + "@" + version, read);
        return new Stored(name, version, true, null);
    }

    private static void refuseRepairs(Contract read) {
        List<Problem> repairs =
                read.notes().stream().filter(n -> n.severity() != Severity.INFO).toList();
        if (!repairs.isEmpty()) {
            Problem first = repairs.get(0);
            throw Wrong.input(
                    "contract.repairs",
                    "It would have to be repaired, for "
                            + (repairs.size() == 1 ? "one reason" : repairs.size() + " reasons; the first") + ": "
                            + first.place() + ": " + first.text()
                            + (first.section() == null ? "" : " (" + first.section() + ")")
                            + " Allow repairs to import it, with all of them noted.");
        }
    }

    /** Whether the files are the same, byte by byte, under the same names. */
    static boolean same(List<ContractMapper.FileRow> before, List<Contract.Document> after) {
        if (before.size() != after.size()) {
            return false;
        }
        Map<String, byte[]> old = new LinkedHashMap<>();
        before.forEach(f -> old.put(f.uri, f.bytes));
        return after.stream().allMatch(d -> Arrays.equals(old.get(d.uri()), d.bytes()));
    }

    @Transactional
    int put(String name, String source, String connection, Contract c) {
        List<Contract.Port> ports = c.ports();
        int operations = (int) ports.stream()
                .flatMap(p -> p.operations().stream())
                .map(o -> o.name())
                .distinct()
                .count();
        int unusable = (int) ports.stream()
                .flatMap(p -> p.operations().stream())
                .filter(o -> !o.isUsable())
                .count();
        Summary summary = new Summary(
                c.services().stream().map(Contract.Service::name).toList(),
                ports.size(),
                operations,
                unusable,
                (int) c.notes().stream()
                        .filter(n -> n.severity() == Severity.WARNING)
                        .count(),
                (int) c.notes().stream()
                        .filter(n -> n.severity() == Severity.ERROR)
                        .count(),
                ports.stream().map(p -> p.protocol().label()).distinct().toList());
        int version = rows.next(name, connection == null || connection.isBlank() ? null : connection);
        rows.putVersion(name, version, source, json.write(summary));
        int position = 0;
        for (Contract.Document d : c.documents()) {
            rows.putFile(name, version, position++, d.uri(), d.bytes());
        }
        return version;
    }

    public void delete(String name) {
        InUse.remove("contract", name, uses.ofContract(name), () -> rows.delete(name));
        synchronized (cache) {
            cache.keySet().removeIf(key -> key.startsWith(name + "@"));
        }
    }
}
