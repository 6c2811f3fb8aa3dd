package org.wirekettle.server.data.kinds;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.NamedTarget;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.file.FileName;
import org.wirekettle.connector.file.FileTarget;
import org.wirekettle.connector.file.RowFormat;
import org.wirekettle.expression.Expressions;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.TargetSettings;
import org.wirekettle.server.data.TargetKind;
import org.wirekettle.xml.FieldNames;

/** A file of one format in the target folder. */
abstract class FileTargetKind implements TargetKind {
    private static final int MAX_COLUMNS = 2_000;

    private final String name;
    private final Home home;
    private final Expressions expressions;

    /** For the proxies of beans. */
    FileTargetKind() {
        this(null, null, null);
    }

    FileTargetKind(String name, Home home, Expressions expressions) {
        this.name = name;
        this.home = home;
        this.expressions = expressions;
    }

    /** @param columns of the rows: the target's own, or those of what is written */
    abstract RowFormat format(TargetSettings s, List<Field> columns);

    abstract RecordSource reader(Path file, TargetSettings s) throws IOException;

    /** @throws Wrong in words, when a file of this format cannot be written with these settings */
    void checkFormat(TargetSettings s) {}

    /** Whether its rows have a fixed list of columns. */
    boolean hasColumns() {
        return false;
    }

    /** The header of a file that is there. */
    List<String> header(Path file, TargetSettings s) throws IOException {
        return List.of();
    }

    @Override
    public String name() {
        return name;
    }

    @Override
    public void check(TargetSettings s) {
        if (s.columns() != null
                && (s.columns().size() > MAX_COLUMNS || s.columns().stream().anyMatch(c -> c == null || c.isBlank()))) {
            throw Wrong.input("target.columns", "A target has at most " + MAX_COLUMNS + " columns, each with a name.");
        }
        checkFormat(s);
        fileName(s);
        if (s.replace() == null) {
            throw Wrong.input("target.replace", "Choose whether a run adds to the file or replaces it.");
        }
    }

    private FileName fileName(TargetSettings s) {
        try {
            return FileName.of(s.file(), expressions);
        } catch (IllegalArgumentException e) {
            throw Wrong.input("target.file", e.getMessage());
        }
    }

    /** A file made for given columns has its header from the start; one that is there is left alone. */
    @Override
    public void prepare(TargetSettings s) {
        FileName file = fileName(s);
        boolean hasOwn = s.columns() != null && !s.columns().isEmpty();
        if (!hasColumns() || !hasOwn || !file.isFixed() || Files.exists(path(file.text()))) {
            return;
        }
        RowFormat format = format(s, own(s.columns()));
        if (format.isWrittenAside()) {
            return;
        }
        try (FileTarget made = new FileTarget(path(file.text()), format, false)) {
            made.begin(new RecordTarget.Pass(0, RecordTarget.Pass.Stage.BEGINS, home.targets()));
        } catch (IOException e) {
            throw Wrong.input("target.file", "The file cannot be written: " + e.getMessage());
        }
    }

    private static List<Field> own(List<String> columns) {
        return columns.stream()
                .map(c -> Field.of(FieldNames.name(c), c, "string"))
                .toList();
    }

    private Path path(String fileName) {
        return home.targets().resolve(fileName);
    }

    @Override
    public RecordTarget open(TargetSettings s, String environment, List<Field> fields) {
        FileName file = fileName(s);
        RowFormat format = format(s, columns(s, fields));
        boolean replace = Boolean.TRUE.equals(s.replace());
        if (file.isFixed()) {
            return new FileTarget(path(file.text()), format, replace);
        }
        return new NamedTarget(pass -> {
            try {
                return new FileTarget(path(file.of(pass.about(), startOf(pass.about()))), format, replace);
            } catch (IllegalArgumentException e) {
                throw new IOException(e.getMessage(), e);
            }
        });
    }

    private static Instant startOf(Node run) {
        Node started = run.child("started");
        return started == null ? Instant.EPOCH : Instant.parse(started.string());
    }

    /** Its own columns with the types of what is written into them, or what is written. */
    private List<Field> columns(TargetSettings s, List<Field> fields) {
        if (s.columns() == null || s.columns().isEmpty() || !hasColumns()) {
            return fields;
        }
        return own(s.columns()).stream()
                .map(c -> fields.stream()
                        .filter(f -> f.name().equals(c.name()))
                        .findFirst()
                        .map(f -> Field.of(c.name(), c.label(), f.type()))
                        .orElse(c))
                .toList();
    }

    @Override
    public List<Field> columns(TargetSettings s, String environment) {
        return s.columns() == null || !hasColumns() ? List.of() : own(s.columns());
    }

    @Override
    public Optional<RecordSource> written(TargetSettings s, String environment) {
        return newestFile(s).map(f -> {
            try {
                return reader(f, s);
            } catch (IOException e) {
                throw Wrong.input("target.unreadable", "The file cannot be read: " + e.getMessage() + ".");
            }
        });
    }

    /** Of a name that differs from run to run, the file that was written last. */
    private Optional<Path> newestFile(TargetSettings s) {
        FileName file = fileName(s);
        if (file.isFixed()) {
            return Optional.of(path(file.text())).filter(Files::exists);
        }
        try (Stream<Path> all = Files.list(home.targets())) {
            return all.filter(f -> file.fits(f.getFileName().toString())
                            && !f.getFileName().toString().endsWith(".part"))
                    .max(Comparator.comparing(FileTargetKind::changed));
        } catch (IOException e) {
            throw Wrong.input("target.unreadable", "The folder of targets cannot be read: " + e.getMessage());
        }
    }

    private static FileTime changed(Path f) {
        try {
            return Files.getLastModifiedTime(f);
        } catch (IOException gone) {
            return FileTime.fromMillis(0);
        }
    }

    @Override
    public Optional<String> file(TargetSettings s) {
        return Optional.of(s.file());
    }

    @Override
    public TargetSettings matched(TargetSettings s) {
        try {
            List<String> there = header(newestFile(s).orElse(path("none")), s);
            if (there.isEmpty()) {
                throw Wrong.input("target.header", "The file " + s.file() + " has no header yet.");
            }
            return s.with(there);
        } catch (IOException e) {
            throw Wrong.input("target.file", "The file cannot be read: " + e.getMessage());
        }
    }

    @Override
    public Optional<Path> download(TargetSettings s) {
        return newestFile(s);
    }
}
