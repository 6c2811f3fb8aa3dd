package org.wirekettle.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.wirekettle.call.DocumentFetch;
import org.wirekettle.call.HostPolicy;
import org.wirekettle.contract.Archive;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.DescriptionReader;
import org.wirekettle.contract.Documents;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;
import org.wirekettle.xml.SafeXml;

/** Reads the contract that the command line's paths and addresses name; imports are followed on disk and over HTTP. */
final class Descriptions {
    /** Whoever runs the command line may reach whatever the machine can. */
    private static final DocumentFetch WEB = new DocumentFetch(HostPolicy.of("loopback,private"));

    private Descriptions() {}

    static Contract read(List<String> pathsOrUrls) {
        Documents documents = new Documents(Descriptions::fetch);
        Map<String, byte[]> files = new LinkedHashMap<>();
        for (String given : pathsOrUrls) {
            try {
                String name = given.matches("(?i)https?://.*")
                        ? given
                        : Path.of(given).toAbsolutePath().normalize().toString();
                byte[] bytes = fetch(name);
                if (Archive.isZip(bytes)) {
                    files.putAll(Archive.unpack(name, bytes));
                } else {
                    files.put(name, bytes);
                }
            } catch (IOException e) {
                throw new Refused("wsdl.unavailable", Place.of(given), "It cannot be had: " + e.getMessage() + ".", e);
            }
        }
        files.forEach(documents::add);
        return DescriptionReader.read(
                files.size() == 1 ? files.keySet().iterator().next() : Archive.root(files), documents);
    }

    private static byte[] fetch(String name) throws IOException {
        if (!name.matches("(?i)https?://.*")) {
            Path file = Path.of(name);
            if (!Files.isRegularFile(file)) {
                throw new IOException("there is no file " + name);
            }
            if (Files.size(file) > SafeXml.MAX_DOCUMENT_BYTES) {
                throw new IOException("it is larger than " + SafeXml.MAX_DOCUMENT_BYTES + " bytes");
            }
            return Files.readAllBytes(file);
        }
        return WEB.get(name);
    }
}
