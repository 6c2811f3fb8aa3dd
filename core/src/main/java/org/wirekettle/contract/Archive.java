package org.wirekettle.contract;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipInputStream;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Refused;

/** Unpacks a ZIP of description files in memory, within limits: a small archive can hold a very large file. */
public final class Archive {
    /** Files of one archive. */
    public static final int MAX_ENTRIES = 2_000;
    /** Bytes of all files together, unpacked. */
    public static final int MAX_BYTES = 96 * 1024 * 1024;

    private Archive() {}

    public static boolean isZip(byte[] bytes) {
        return bytes.length > 3 && bytes[0] == 'P' && bytes[1] == 'K' && bytes[2] == 3 && bytes[3] == 4;
    }

    /**
     * @return file names to bytes, in the archive's order
     * @throws Refused when it is damaged or exceeds a limit
     */
    public static Map<String, byte[]> unpack(String name, byte[] bytes) {
        Map<String, byte[]> out = new LinkedHashMap<>();
        long left = MAX_BYTES;
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(bytes))) {
            for (ZipEntry e; (e = zip.getNextEntry()) != null; ) {
                if (e.isDirectory() || e.getName().contains("__MACOSX/")) {
                    continue;
                }
                String file = e.getName().replace('\\', '/');
                if (file.startsWith("/") || file.matches("(.*/)?\\.\\.(/.*)?") || file.contains(":")) {
                    throw new Refused(
                            "archive.path", Place.of(name), "The archive has a file outside itself: " + file + ".");
                }
                if (out.size() >= MAX_ENTRIES) {
                    throw new Refused(
                            "archive.size", Place.of(name), "The archive has more than " + MAX_ENTRIES + " files.");
                }
                byte[] content = zip.readNBytes((int) Math.min(Integer.MAX_VALUE - 8, left + 1));
                left -= content.length;
                if (left < 0) {
                    throw new Refused(
                            "archive.size",
                            Place.of(name),
                            "The archive unpacks to more than " + MAX_BYTES / 1024 / 1024 + " MB.");
                }
                out.put(file, content);
            }
        } catch (ZipException | IllegalArgumentException e) {
            throw new Refused(
                    "archive.damaged", Place.of(name), "The archive cannot be unpacked: " + e.getMessage(), e);
        } catch (IOException e) {
            throw new Refused("archive.damaged", Place.of(name), "The archive ends too early.", e);
        }
        if (out.isEmpty()) {
            throw new Refused("archive.empty", Place.of(name), "The archive has no files.");
        }
        return out;
    }

    /** The root among several files: the WSDL that no other imports, preferring one that defines a service. */
    public static String root(Map<String, byte[]> files) {
        String found = null;
        int best = -1;
        for (Map.Entry<String, byte[]> f : files.entrySet()) {
            String head = new String(
                    f.getValue(),
                    0,
                    Math.min(f.getValue().length, 4_000),
                    java.nio.charset.StandardCharsets.ISO_8859_1);
            String whole = new String(f.getValue(), java.nio.charset.StandardCharsets.ISO_8859_1);
            boolean wsdl = f.getKey().toLowerCase(java.util.Locale.ROOT).endsWith(".wsdl")
                    || head.contains("definitions") && head.contains("schemas.xmlsoap.org/wsdl");
            boolean isOther = DescriptionReader.isOpenApi(f.getValue()) || DescriptionReader.isWadl(f.getValue());
            int score = (isOther ? 5 : 0)
                    + (wsdl ? 4 : 0)
                    + (wsdl && whole.matches("(?s).*<(\\w+:)?service[\\s>].*") ? 2 : 0);
            if (score > best) {
                best = score;
                found = f.getKey();
            }
        }
        return found;
    }
}
