package org.wirekettle.server.contracts;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.common.Uploads;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.xml.SafeXml;

/** The files of a description as they arrive: uploaded before, or within the request. */
@ApplicationScoped
class UploadedFiles {
    /** Files of one upload. */
    private static final int MAX_FILES = 500;

    private final Uploads uploads;

    UploadedFiles(Uploads uploads) {
        this.uploads = uploads;
    }

    /** A file of a description: uploaded before by its id, which is the way for large ones, or in Base64. */
    public record UploadedFile(
            String name, @Nullable String base64, @Nullable String upload) {}

    /**
     * @param uploaded may be null
     * @return names to bytes, in their order
     * @throws Wrong when there are too many, one is too large, or one did not arrive
     */
    Map<String, byte[]> read(List<UploadedFile> uploaded) {
        Map<String, byte[]> files = new LinkedHashMap<>();
        if (uploaded != null) {
            if (uploaded.size() > MAX_FILES) {
                throw Wrong.input("contract.files", "At most " + MAX_FILES + " files can be imported at once.");
            }
            for (UploadedFile f : uploaded) {
                if (f == null
                        || f.name() == null
                        || f.name().isBlank()
                        || f.name().indexOf('\0') >= 0) {
                    throw Wrong.input("contract.file", "Every file needs a name.");
                }
                files.put(f.name().replace('\\', '/'), bytes(f));
            }
        }
        return files;
    }

    private byte[] bytes(UploadedFile f) {
        try {
            byte[] bytes = f.upload() != null
                    ? uploads.read(f.upload(), SafeXml.MAX_DOCUMENT_BYTES)
                    : Base64.getDecoder().decode(f.base64() == null ? "" : f.base64());
            if (bytes.length > SafeXml.MAX_DOCUMENT_BYTES) {
                throw Wrong.input(
                        "contract.size",
                        "The file " + f.name() + " is larger than " + SafeXml.MAX_DOCUMENT_BYTES / 1024 / 1024
                                + " MB, the limit for one file.");
            }
            return bytes;
        } catch (IllegalArgumentException e) {
            throw Wrong.input("contract.file", "The file " + f.name() + " did not arrive whole.");
        } catch (IOException e) {
            throw Wrong.input("contract.file", "The file " + f.name() + " cannot be read: " + e.getMessage());
        }
    }
}
