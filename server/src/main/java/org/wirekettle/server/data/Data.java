package org.wirekettle.server.data;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.wirekettle.connector.CsvFormat;
import org.wirekettle.connector.CsvSource;
import org.wirekettle.connector.CsvTarget;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.connector.SqlTarget;
import org.wirekettle.record.FieldNames;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Uploads;
import org.wirekettle.server.connections.Connections;

/** The project's sources and targets, opened for an environment. A new kind is registered here. */
@ApplicationScoped
public class Data {
    private final DataMapper rows;
    private final Connections connections;
    private final Home home;
    private final Json json;
    private final Uploads uploads;

    Data(DataMapper rows, Connections connections, Home home, Json json, Uploads uploads) {
        this.uploads = uploads;
        this.rows = rows;
        this.connections = connections;
        this.home = home;
        this.json = json;
    }

    /**
     * A source: an uploaded file and its format, or a connection and a query.
     *
     * @param file the uploaded file's id
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record SourceSettings(String file, String fileName, Format format, String connection, String query) {}

    /** @param delimiter one character; {@code \t} is written as the tab itself */
    public record Format(String delimiter, String quote, String encoding, boolean header) {
        CsvFormat csv() {
            return new CsvFormat(
                    delimiter == null || delimiter.isEmpty() ? ',' : delimiter.charAt(0),
                    quote == null || quote.isEmpty() ? '"' : quote.charAt(0),
                    encoding == null ? "UTF-8" : encoding,
                    header);
        }

        static Format of(CsvFormat f) {
            return new Format(String.valueOf(f.delimiter()), String.valueOf(f.quote()), f.encoding(), f.header());
        }
    }

    /**
     * A target: a file name with its format, or a connection and a table.
     *
     * @param replace for files: whether a run's file takes the old one's place
     * @param columns for files: the header, in order
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TargetSettings(
            String file, Format format, Boolean replace, List<String> columns, String connection, String table) {}

    /**
     * A source's or target's definition as it is kept, to be used later although it may have been changed meanwhile.
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Pinned(String name, String kind, String settings) {}

    public Optional<Pinned> pinSource(String name) {
        return Optional.ofNullable(name).map(rows::source).map(r -> new Pinned(r.name, r.kind, r.settings));
    }

    public Optional<Pinned> pinTarget(String name) {
        return Optional.ofNullable(name).map(rows::target).map(r -> new Pinned(r.name, r.kind, r.settings));
    }

    public Optional<RecordSource> source(String name, String environment) {
        return pinSource(name).map(p -> source(p, environment));
    }

    public RecordSource source(Pinned p, String environment) {
        return open(p.kind(), json.read(p.settings(), SourceSettings.class), environment);
    }

    public RecordTarget target(Pinned p, String environment, List<String> fields) {
        return target(p.kind(), json.read(p.settings(), TargetSettings.class), environment, fields);
    }

    /** The file a target writes to, or null when it is none. */
    public String fileOf(Pinned target) {
        return target == null || !target.kind().equals("csv")
                ? null
                : json.read(target.settings(), TargetSettings.class).file();
    }

    /** The uploaded file a source reads, or null when it is none. */
    public String uploadOf(Pinned source) {
        return source == null || !source.kind().equals("csv")
                ? null
                : json.read(source.settings(), SourceSettings.class).file();
    }

    RecordSource open(String kind, SourceSettings s, String environment) {
        return switch (kind) {
            case "csv" -> new CsvSource(uploads.path(s.file()), s.format().csv());
            case "sql" -> new SqlSource(connections.database(s.connection(), environment), s.query());
            default -> throw new IllegalStateException("no source of kind " + kind);
        };
    }

    /** @param fields the labels of the fields to be written, used when a file target has no columns of its own */
    public Optional<RecordTarget> target(String name, String environment, List<String> fields) {
        return pinTarget(name).map(p -> target(p, environment, fields));
    }

    private RecordTarget target(String kind, TargetSettings s, String environment, List<String> fields) {
        return switch (kind) {
            case "csv" -> {
                List<String> columns = s.columns() == null || s.columns().isEmpty() ? fields : s.columns();
                yield new CsvTarget(
                        file(s.file()),
                        s.format() == null ? CsvFormat.PLAIN : s.format().csv(),
                        columns,
                        columns.stream().map(FieldNames::name).toList(),
                        Boolean.TRUE.equals(s.replace()));
            }
            case "sql" -> new SqlTarget(connections.database(s.connection(), environment), s.table());
            default -> throw new IllegalStateException("no target of kind " + kind);
        };
    }

    Path file(String name) {
        return home.targets().resolve(name);
    }

    /** The columns a target has, or empty when it takes whatever comes. */
    List<org.wirekettle.connector.Field> columns(String kind, TargetSettings s, String environment) throws IOException {
        if (kind.equals("sql")) {
            try (var c = connections.database(s.connection(), environment).open()) {
                return SqlTarget.columns(c, s.table());
            } catch (java.sql.SQLException e) {
                throw new IOException(e.getMessage(), e);
            }
        }
        return s.columns() == null
                ? List.of()
                : s.columns().stream()
                        .map(c -> org.wirekettle.connector.Field.of(FieldNames.name(c), c, "string"))
                        .toList();
    }
}
