package org.wirekettle.server.data;

import com.fasterxml.jackson.annotation.JsonInclude;
import io.quarkus.arc.All;
import jakarta.enterprise.context.ApplicationScoped;
import java.nio.charset.Charset;
import java.nio.charset.IllegalCharsetNameException;
import java.nio.charset.UnsupportedCharsetException;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlParameters;
import org.wirekettle.connector.file.CsvFormat;
import org.wirekettle.connector.file.FileKind;
import org.wirekettle.connector.file.FixedFormat;
import org.wirekettle.connector.file.Grouping;
import org.wirekettle.connector.file.ReadAs;
import org.wirekettle.connector.file.Recognised;
import org.wirekettle.connector.file.SheetFormat;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.document.SchemaText;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;

/** The project's sources, targets and shapes, opened for an environment. */
@ApplicationScoped
public class Data {
    private final Definitions<SourceSettings> sources;
    private final Definitions<TargetSettings> targets;
    private final Definitions<ShapeSettings> shapes;
    private final Shapes readShapes = new Shapes();
    private final List<SourceKind> sourceKinds;
    private final List<TargetKind> targetKinds;
    private final Connections connections;
    private final Json json;

    Data(
            DefinitionMapper rows,
            UseMapper uses,
            Connections connections,
            Json json,
            @All List<SourceKind> sourceKinds,
            @All List<TargetKind> targetKinds) {
        this.sources = new Definitions<>("source", SourceSettings.class, rows, json, uses::ofSource);
        this.targets = new Definitions<>("target", TargetSettings.class, rows, json, uses::ofTarget);
        this.shapes = new Definitions<>("shape", ShapeSettings.class, rows, json, uses::ofShape);
        this.sourceKinds = sourceKinds;
        this.targetKinds = targetKinds;
        this.connections = connections;
        this.json = json;
    }

    /**
     * What the kinds of sources are made of; each kind says which it needs.
     *
     * @param file the uploaded file's id
     * @param files instead of one: a pattern of names in the folder of files, such as {@code orders/*.csv}
     * @param format of a delimited file
     * @param fixed of a file of fixed width
     * @param encoding of JSON lines
     * @param path where the records of a nested file are; empty for the whole file as one
     * @param sheet which cells of a workbook
     * @param group how several rows make one record; null for one each
     * @param types what fields are read as; values of others stay as they are
     * @param query in which {@code :name} stands for a parameter
     * @param parameters of the query; null for none
     * @param asked the operation whose rows are the records, over the connection
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record SourceSettings(
            @Nullable String file,
            @Nullable String fileName,
            @Nullable String files,
            @Nullable Format format,
            @Nullable FixedFormat fixed,
            @Nullable String encoding,
            @Nullable String path,
            @Nullable SheetFormat sheet,
            @Nullable Grouping group,
            @Nullable List<ReadAs> types,
            @Nullable String connection,
            @Nullable String query,
            @Nullable List<SqlParameters.QueryParameter> parameters,
            @Nullable Asked asked) {
        /** Of an uploaded file, as far as its beginning tells how it is read. */
        static SourceSettings of(String file, String name, Recognised r) {
            return new SourceSettings(
                    file,
                    name,
                    null,
                    r.csv() == null ? null : Format.of(r.csv()),
                    r.fixed(),
                    r.encoding(),
                    r.path(),
                    r.kind() == FileKind.XLSX ? new SheetFormat(r.sheets().get(0), null, true) : null,
                    null,
                    null,
                    null,
                    null,
                    null,
                    null);
        }
    }

    /**
     * An operation whose rows are records.
     *
     * @param version of the contract; null for the current one
     * @param fill of the request; it may name {@code $page} and {@code $reply}, the answer before
     * @param rows an expression over {@code $reply}: each item is a record
     * @param more an expression over {@code $reply}: while it holds, the next page is asked for; null for one page
     * @param known the fields that were seen when it was last read in the editor
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Asked(
            String contract,
            @Nullable Integer version,
            @Nullable String port,
            String operation,
            @Nullable List<Mapping.Rule> fill,
            String rows,
            @Nullable String more,
            @Nullable List<Field> known) {}

    /** @param delimiter one character; {@code \t} is written as the tab itself */
    public record Format(
            String delimiter,
            String quote,
            String encoding,
            boolean header,
            @Nullable Boolean shortLines) {
        public CsvFormat csv() {
            return new CsvFormat(
                    delimiter == null || delimiter.isEmpty() ? ',' : delimiter.charAt(0),
                    quote == null || quote.isEmpty() ? '"' : quote.charAt(0),
                    encoding == null ? "UTF-8" : encoding,
                    header,
                    Boolean.TRUE.equals(shortLines));
        }

        static Format of(CsvFormat f) {
            return new Format(String.valueOf(f.delimiter()), String.valueOf(f.quote()), f.encoding(), f.header(), null);
        }

        /** @throws Wrong with that code, when a file cannot be written like that */
        public void check(String code) {
            checkEncoding(encoding, code);
            CsvFormat f = csv();
            boolean isOne = (delimiter == null || delimiter.length() <= 1) && (quote == null || quote.length() <= 1);
            String breaks = "\r\n";
            if (!isOne
                    || f.delimiter() == f.quote()
                    || breaks.indexOf(f.delimiter()) >= 0
                    || breaks.indexOf(f.quote()) >= 0) {
                throw Wrong.input(
                        code, "Delimiter and quote are one character each, different ones, and no line breaks.");
            }
        }
    }

    /** @param encoding may be null. @throws Wrong with that code, when there is none of that name */
    public static void checkEncoding(String encoding, String code) {
        try {
            Charset.forName(encoding == null ? "UTF-8" : encoding);
        } catch (IllegalCharsetNameException | UnsupportedCharsetException e) {
            throw Wrong.input(code, "There is no encoding " + encoding + ".");
        }
    }

    /**
     * What the kinds of targets are made of; each kind says which it needs.
     *
     * @param file for files: the name, with expressions over {@code $run} in braces
     * @param replace for files: whether a run's file takes the old one's place
     * @param columns for files of rows: the header, in order
     * @param root for XML: the document's element. @param row for XML: the element of a row
     * @param sheet for workbooks: its name
     * @param mode for tables: {@code insert}, {@code update}, {@code upsert}, {@code delete}; null for insert
     * @param keys for tables: the columns by which a row is known
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TargetSettings(
            @Nullable String file,
            @Nullable Format format,
            Boolean replace,
            @Nullable List<String> columns,
            @Nullable String root,
            @Nullable String row,
            @Nullable String sheet,
            @Nullable String connection,
            @Nullable String table,
            @Nullable String mode,
            @Nullable List<String> keys) {
        /** The same with other columns. */
        public TargetSettings with(List<String> others) {
            return new TargetSettings(file, format, replace, others, root, row, sheet, connection, table, mode, keys);
        }
    }

    /**
     * What documents look like.
     *
     * @param files the schema; the first is the one that others belong to
     * @param root for XML: the element a document is; null for the first that is declared
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ShapeSettings(
            List<SchemaText> files, @Nullable String root) {
        public ShapeSettings {
            Wrong.required(files, "files");
            if (files.stream().anyMatch(Objects::isNull)) {
                throw Wrong.malformed("A file of the shape is missing.");
            }
        }
    }

    /**
     * A source's, a target's or a shape's definition as it is kept, to be used later although it may have been changed
     * meanwhile.
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Pinned(String name, String kind, String settings) {}

    /** How many sources, targets and shapes there are. */
    public int size() {
        return sources.list().size() + targets.list().size() + shapes.list().size();
    }

    Definitions<SourceSettings> sources() {
        return sources;
    }

    Definitions<TargetSettings> targets() {
        return targets;
    }

    Definitions<ShapeSettings> shapes() {
        return shapes;
    }

    public Optional<Pinned> pinShape(String name) {
        return shapes.find(name).map(d -> new Pinned(d.name(), d.kind(), d.text()));
    }

    /** @throws org.wirekettle.problem.Refused when it cannot be read */
    public DocumentShape shape(Pinned p) {
        return readShapes.of(p.kind(), json.read(p.settings(), ShapeSettings.class));
    }

    /** @throws org.wirekettle.problem.Refused with file and line, when it cannot be read */
    DocumentShape shape(String language, ShapeSettings s) {
        return readShapes.of(language, s);
    }

    /** @throws Wrong when there is no such kind */
    SourceKind sourceKind(String name) {
        return sourceKinds.stream()
                .filter(k -> k.name().equals(name))
                .findFirst()
                .orElseThrow(() -> {
                    List<String> known =
                            sourceKinds.stream().map(SourceKind::name).sorted().toList();
                    return Wrong.input("source.kind", "The kind is " + String.join(" or ", known) + ".");
                });
    }

    /** @throws Wrong when there is no such kind */
    TargetKind targetKind(String name) {
        return targetKinds.stream()
                .filter(k -> k.name().equals(name))
                .findFirst()
                .orElseThrow(() -> {
                    List<String> known =
                            targetKinds.stream().map(TargetKind::name).sorted().toList();
                    return Wrong.input("target.kind", "The kind is " + String.join(" or ", known) + ".");
                });
    }

    public Optional<Pinned> pinSource(String name) {
        return sources.find(name).map(d -> new Pinned(d.name(), d.kind(), d.text()));
    }

    public Optional<Pinned> pinTarget(String name) {
        return targets.find(name).map(d -> new Pinned(d.name(), d.kind(), d.text()));
    }

    public Optional<RecordSource> source(String name, String environment) {
        return pinSource(name).map(p -> source(p, environment));
    }

    public RecordSource source(Pinned p, String environment) {
        return sourceKind(p.kind()).open(json.read(p.settings(), SourceSettings.class), environment);
    }

    /** @param fields of the rows to be written, as far as they are known */
    public Optional<RecordTarget> target(String name, String environment, List<Field> fields) {
        return pinTarget(name).map(p -> target(p, environment, fields));
    }

    public RecordTarget target(Pinned p, String environment, List<Field> fields) {
        return targetKind(p.kind()).open(json.read(p.settings(), TargetSettings.class), environment, fields);
    }

    /** The file a target writes to. @param target may be null */
    public Optional<String> fileOf(Pinned target) {
        return Optional.ofNullable(target)
                .flatMap(t -> targetKind(t.kind()).file(json.read(t.settings(), TargetSettings.class)));
    }

    /** Tells what a source gives from what it gave before its definition, or its connection, was changed. */
    public String version(Pinned source, String environment) {
        String connection = json.read(source.settings(), SourceSettings.class).connection();
        return String.join(
                "\n", source.kind(), source.settings(), String.valueOf(environment), connections.version(connection));
    }
}
