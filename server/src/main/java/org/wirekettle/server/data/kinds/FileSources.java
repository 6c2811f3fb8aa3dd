package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.util.List;
import java.util.regex.PatternSyntaxException;
import java.util.stream.Stream;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.connector.file.GroupedSource;
import org.wirekettle.connector.file.SeriesSource;
import org.wirekettle.connector.file.TypedSource;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Uploads;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.SourceSettings;

/** What all files have in common as sources: where they are, what fields are read as, how rows make a record. */
@ApplicationScoped
public class FileSources {
    private static final int MAX_FILES = 10_000;
    private static final int MAX_PATTERN_CHARS = 200;
    private static final int MAX_TYPES = 2_000;

    private final Uploads uploads;
    private final Home home;

    FileSources(Uploads uploads, Home home) {
        this.uploads = uploads;
        this.home = home;
    }

    /** Makes the source of one file. */
    interface Opening {
        RecordSource of(Path file) throws IOException;
    }

    /** @throws Wrong in words, when there is no file, or one of another kind */
    void check(SourceSettings s, FileKind kind) {
        if (s.types() != null) {
            if (s.types().size() > MAX_TYPES) {
                throw Wrong.input("source.types", "At most " + MAX_TYPES + " fields can be read as other types.");
            }
            asked("source.types", () -> s.types().forEach(TypedSource::check));
        }
        if (s.files() != null && !s.files().isBlank()) {
            matcher(s.files());
            return;
        }
        if (!uploads.isThere(s.file())) {
            throw Wrong.input("source.file", "Upload the file first.");
        }
        try {
            FileKind found = FileKind.of(uploads.path(s.file()));
            if (!goTogether(kind, found)) {
                throw Wrong.input(
                        "source.kind",
                        "The file " + (s.fileName() == null ? "" : s.fileName() + " ") + "is " + found.words()
                                + ", not " + kind.words() + ".");
            }
        } catch (IOException e) {
            throw Wrong.input("source.file", "The file cannot be read: " + e.getMessage() + ".");
        }
    }

    /** Read as another kind, its lines would be taken for records, and every one of them would be wrong. */
    private static boolean goTogether(FileKind wanted, FileKind found) {
        return family(wanted).equals(family(found));
    }

    private static String family(FileKind kind) {
        return switch (kind) {
            case CSV, FIXED -> "lines";
            case JSON, JSON_LINES -> "json";
            case XML, XLSX -> kind.id();
        };
    }

    /** Does what refuses settings in words. @throws Wrong with them */
    static void asked(String code, Runnable what) {
        try {
            what.run();
        } catch (IllegalArgumentException e) {
            throw Wrong.input(code, e.getMessage());
        }
    }

    RecordSource open(SourceSettings s, Opening opening) {
        RecordSource out = s.files() == null || s.files().isBlank()
                ? one(uploads.path(s.file()), opening)
                : series(s.files(), opening);
        if (s.types() != null && !s.types().isEmpty()) {
            out = new TypedSource(out, s.types());
        }
        return s.group() == null ? out : new GroupedSource(out, s.group());
    }

    private static RecordSource one(Path file, Opening opening) {
        try {
            return opening.of(file);
        } catch (IOException e) {
            throw Wrong.input("source.file", "The file cannot be read: " + e.getMessage() + ".");
        }
    }

    private RecordSource series(String pattern, Opening opening) {
        Path folder = home.files();
        PathMatcher fits = matcher(pattern);
        try (Stream<Path> all = Files.walk(folder)) {
            List<SeriesSource.Part> parts = all.filter(f -> fits.matches(folder.relativize(f))
                            && Files.isRegularFile(f, LinkOption.NOFOLLOW_LINKS)
                            && isWhole(f))
                    .sorted()
                    .limit(MAX_FILES + 1L)
                    .map(f -> new SeriesSource.Part(folder.relativize(f).toString(), () -> opening.of(f)))
                    .toList();
            if (parts.size() > MAX_FILES) {
                throw Wrong.input("source.files", "More than " + MAX_FILES + " files fit " + pattern + ".");
            }
            return new SeriesSource(parts);
        } catch (IOException | UncheckedIOException e) {
            throw Wrong.input("source.files", "The folder of files cannot be read: " + e.getMessage());
        }
    }

    private static boolean isWhole(Path file) {
        return !AttachedFiles.isUnderWay(file);
    }

    private static PathMatcher matcher(String pattern) {
        if (pattern.length() > MAX_PATTERN_CHARS || pattern.startsWith("/") || pattern.contains("..")) {
            throw Wrong.input(
                    "source.files",
                    "A pattern names files in the folder of files, such as orders/*.csv, in at most "
                            + MAX_PATTERN_CHARS + " characters.");
        }
        try {
            return FileSystems.getDefault().getPathMatcher("glob:" + pattern.strip());
        } catch (PatternSyntaxException e) {
            throw Wrong.input("source.files", "“" + pattern + "” is no pattern: " + e.getDescription() + ".");
        }
    }
}
