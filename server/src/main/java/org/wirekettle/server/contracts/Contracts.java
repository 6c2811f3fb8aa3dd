package org.wirekettle.server.contracts;

import jakarta.enterprise.context.ApplicationScoped;
import jakarta.transaction.Transactional;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.wirekettle.call.DocumentFetch;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.contract.Archive;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;

/** The project's contracts. Read ones are kept in memory, by name and version. */
@ApplicationScoped
public class Contracts {
    private final ContractMapper rows;
    private final Json json;
    private final DocumentFetch web;
    private final Map<String, Cached> cache = new ConcurrentHashMap<>();

    private record Cached(int version, Contract contract) {}

    /** What lists show. */
    public record Summary(List<String> services, int ports, int operations, int unusable, int warnings, int errors, List<String> protocols) {}

    Contracts(ContractMapper rows, Json json, HostPolicy policy) {
        this.rows = rows;
        this.json = json;
        this.web = new DocumentFetch(policy);
    }

    public Optional<Contract> find(String name) {
        ContractMapper.Row row = rows.get(name);
        if (row == null) {
            return Optional.empty();
        }
        Cached known = cache.get(name);
        if (known != null && known.version == row.version) {
            return Optional.of(known.contract);
        }
        Map<String, byte[]> files = new LinkedHashMap<>();
        rows.files(name).forEach(f -> files.put(f.uri, f.bytes));
        Contract read = WsdlReader.read(files.keySet().iterator().next(), Documents.of(files));
        cache.put(name, new Cached(row.version, read));
        return Optional.of(read);
    }

    public Contract get(String name) {
        return find(name).orElseThrow(() -> Wrong.notFound("contract", name));
    }

    /** Reads a description from an address; its imports follow. Nothing is stored when it cannot be read. */
    public String importFrom(String url, String name) {
        Documents documents = new Documents(web::get);
        return store(WsdlReader.read(url.strip(), documents), url.strip(), name);
    }

    /** Reads a description from files given, archives among them; the root is the WSDL that has the service. */
    public String importFiles(Map<String, byte[]> files, String source, String name) {
        Map<String, byte[]> all = new LinkedHashMap<>();
        files.forEach((file, bytes) -> {
            if (Archive.isZip(bytes)) {
                all.putAll(Archive.unpack(file, bytes));
            } else {
                all.put(file, bytes);
            }
        });
        Documents documents = new Documents(uri -> {
            if (uri.startsWith("http://") || uri.startsWith("https://")) {
                return web.get(uri);
            }
            throw new IOException("it is not among the files given");
        });
        all.forEach(documents::add);
        return store(WsdlReader.read(Archive.root(all), documents), source, name);
    }

    private String store(Contract read, String source, String wanted) {
        String name = (wanted == null || wanted.isBlank() ? read.name() : wanted.strip()).replaceAll("[/\\\\?#%]", "-");
        put(name, source, read);
        cache.put(name, new Cached(rows.get(name).version, read));
        return name;
    }

    @Transactional
    void put(String name, String source, Contract c) {
        List<Contract.Port> ports = c.ports();
        int operations = (int) ports.stream().flatMap(p -> p.operations().stream()).map(o -> o.name()).distinct().count();
        int unusable = (int) ports.stream().flatMap(p -> p.operations().stream()).filter(o -> !o.isUsable()).count();
        Summary summary = new Summary(c.services().stream().map(Contract.Service::name).toList(), ports.size(), operations, unusable,
                (int) c.notes().stream().filter(n -> n.severity() == org.wirekettle.problem.Severity.WARNING).count(),
                (int) c.notes().stream().filter(n -> n.severity() == org.wirekettle.problem.Severity.ERROR).count(),
                ports.stream().map(p -> p.protocol().label()).distinct().toList());
        rows.put(name, source, json.write(summary));
        rows.deleteFiles(name);
        int position = 0;
        for (Contract.Document d : c.documents()) {
            rows.putFile(name, position++, d.uri(), d.bytes());
        }
    }

    public void delete(String name) {
        if (rows.delete(name) == 0) {
            throw Wrong.notFound("contract", name);
        }
        cache.remove(name);
    }
}
