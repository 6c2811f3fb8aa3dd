package org.wirekettle.server.data;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.Charset;
import java.nio.charset.IllegalCharsetNameException;
import java.nio.charset.UnsupportedCharsetException;
import java.nio.file.Files;
import java.nio.file.StandardCopyOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import org.wirekettle.connector.CsvFormat;
import org.wirekettle.connector.CsvTarget;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.SqlSource;
import org.wirekettle.connector.SqlTarget;
import org.wirekettle.record.FieldNames;
import org.wirekettle.record.Node;
import org.wirekettle.record.PrivateFiles;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.InUse;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.UseMapper;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.data.Data.Format;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.server.data.Data.TargetSettings;

/** Sources and targets: upload, preview, change, make. */
@Path("/api/data")
public class DataResource {
    private static final int MAX_PREVIEWED = 500;
    /** A query that is only looked at may take so long. */
    private static final int PREVIEW_SECONDS = 10;

    private static final int MAX_NAME_CHARS = 200;
    private static final int MAX_COLUMNS = 2_000;
    private final Caller caller;
    private final DataMapper rows;
    private final Data data;
    private final Home home;
    private final Json json;
    private final Connections connections;
    private final UseMapper uses;

    DataResource(
            DataMapper rows, Data data, Home home, Json json, Connections connections, UseMapper uses, Caller caller) {
        this.caller = caller;
        this.uses = uses;
        this.rows = rows;
        this.data = data;
        this.home = home;
        this.json = json;
        this.connections = connections;
    }

    public record StoredFile(String id, String name, long bytes, Format format) {}

    public record SourceView(String name, String kind, SourceSettings settings) {}

    public record TargetView(String name, String kind, TargetSettings settings) {}

    public record SourceChange(String kind, SourceSettings settings) {}

    public record TargetChange(String kind, TargetSettings settings) {}

    /**
     * Records as they are now. {@code more} when there are more than shown; {@code problem} when reading ended early,
     * {@code warning} when the connection's account may do more than it should.
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Preview(List<Field> fields, List<Tree> records, boolean more, String problem, String warning) {}

    public record SqlStatement(String sql) {}

    public record MakeTable(String connection, String environment, String table, List<Field> fields) {}

    @POST
    @Path("files")
    @Consumes(MediaType.APPLICATION_OCTET_STREAM)
    public StoredFile upload(@QueryParam("name") String name, InputStream body) throws IOException {
        if (name == null
                || name.isBlank()
                || name.length() > MAX_NAME_CHARS
                || name.chars().anyMatch(Character::isISOControl)) {
            throw Wrong.input(
                    "file.name",
                    "Say the file's name, in at most " + MAX_NAME_CHARS + " characters: ?name=port_calls.csv");
        }
        caller.note(name);
        java.nio.file.Path temporary = Files.createTempFile(home.uploads(), "upload", ".part");
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            long bytes;
            try (OutputStream out = PrivateFiles.write(temporary)) {
                bytes = new DigestInputStream(body, digest).transferTo(out);
            }
            if (bytes == 0) {
                throw Wrong.input("file.empty", "The file " + name + " is empty.");
            }
            String id = HexFormat.of().formatHex(digest.digest());
            Files.move(
                    temporary,
                    home.uploads().resolve(id),
                    StandardCopyOption.ATOMIC_MOVE,
                    StandardCopyOption.REPLACE_EXISTING);
            rows.putFile(id, name, bytes);
            return new StoredFile(
                    id,
                    name,
                    bytes,
                    Format.of(CsvFormat.recognise(home.uploads().resolve(id))));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        } finally {
            Files.deleteIfExists(temporary);
        }
    }

    @GET
    @Path("sources")
    public List<SourceView> sources() {
        return rows.sources().stream()
                .map(r -> new SourceView(r.name, r.kind, json.read(r.settings, SourceSettings.class)))
                .toList();
    }

    @PUT
    @Path("sources/{name}")
    public void putSource(@PathParam("name") String name, SourceChange in) {
        Names.check(name, "data.name");
        check(in);
        rows.putSource(name, in.kind(), json.write(in.settings()));
    }

    private void check(SourceChange in) {
        SourceSettings s = in.settings();
        if ("csv".equals(in.kind())) {
            if (s == null || s.file() == null || rows.file(s.file()) == null) {
                throw Wrong.input("source.file", "Upload the file first.");
            }
            if (s.format() == null) {
                throw Wrong.input(
                        "source.encoding", "Say how the file is written: delimiter, quote, encoding, header.");
            }
            format(s.format(), "source.encoding");
        } else if ("sql".equals(in.kind())) {
            if (s == null || s.query() == null || s.query().isBlank() || s.connection() == null) {
                throw Wrong.input("source.query", "Choose a connection and write a query.");
            }
            connections.row(s.connection());
        } else {
            throw Wrong.input("source.kind", "The kind is csv or sql.");
        }
    }

    /** @throws Wrong when a file cannot be written like that */
    private static void format(Format f, String code) {
        if (f == null) {
            return;
        }
        try {
            if (f.encoding() != null) {
                Charset.forName(f.encoding());
            }
        } catch (IllegalCharsetNameException | UnsupportedCharsetException e) {
            throw Wrong.input(code, "There is no encoding " + f.encoding() + ".");
        }
        String delimiter = f.delimiter() == null || f.delimiter().isEmpty() ? "," : f.delimiter();
        String quote = f.quote() == null || f.quote().isEmpty() ? "\"" : f.quote();
        if (delimiter.length() > 1
                || quote.length() > 1
                || delimiter.equals(quote)
                || "\r\n".contains(delimiter)
                || "\r\n".contains(quote)) {
            throw Wrong.input(code, "Delimiter and quote are one character each, different ones, and no line breaks.");
        }
    }

    @DELETE
    @Path("sources/{name}")
    public void deleteSource(@PathParam("name") String name) {
        InUse.refuse("source", name, uses.ofSource(name));
        if (rows.deleteSource(name) == 0) {
            throw Wrong.notFound("source", name);
        }
    }

    /** Shows what a definition would give, before it is kept. Whoever may write queries may look at what they give. */
    @POST
    @Path("preview")
    @ReadsOnly
    public Preview preview(
            SourceChange in, @QueryParam("environment") String environment, @QueryParam("limit") Integer limit) {
        check(in);
        return preview(
                data.open(in.kind(), in.settings(), environment),
                limit,
                in.kind().equals("sql") ? warning(in.settings().connection(), environment) : null);
    }

    @GET
    @Path("sources/{name}/preview")
    public Preview preview(
            @PathParam("name") String name,
            @QueryParam("environment") String environment,
            @QueryParam("limit") Integer limit) {
        return preview(data.source(name, environment).orElseThrow(() -> Wrong.notFound("source", name)), limit, null);
    }

    private static Preview preview(RecordSource opened, Integer limit, String warning) {
        RecordSource source = opened instanceof SqlSource sql ? sql.within(PREVIEW_SECONDS) : opened;
        int wanted = Math.max(0, Math.min(limit == null ? 100 : limit, MAX_PREVIEWED));
        List<Tree> records = new ArrayList<>();
        try (RecordSource.Stream in = source.open()) {
            Node r = null;
            while (records.size() < wanted && (r = in.next()) != null) {
                records.add(Trees.of(r));
            }
            return new Preview(source.fields(), records, r != null && in.next() != null, null, warning);
        } catch (IOException e) {
            return new Preview(List.of(), records, false, e.getMessage(), warning);
        }
    }

    /**
     * What is dangerous about the connection's account; what keeps it from being asked is told by the preview itself.
     */
    private String warning(String connection, String environment) {
        try (Connection c = connections.database(connection, environment).open()) {
            return Connections.warning(c);
        } catch (SQLException e) {
            return null;
        }
    }

    @GET
    @Path("targets")
    public List<TargetView> targets() {
        return rows.targets().stream()
                .map(r -> new TargetView(r.name, r.kind, json.read(r.settings, TargetSettings.class)))
                .toList();
    }

    @PUT
    @Path("targets/{name}")
    public void putTarget(@PathParam("name") String name, TargetChange in) {
        Names.check(name, "data.name");
        TargetSettings s = in.settings();
        if (s != null
                && s.columns() != null
                && (s.columns().size() > MAX_COLUMNS || s.columns().stream().anyMatch(c -> c == null || c.isBlank()))) {
            throw Wrong.input("target.columns", "A target has at most " + MAX_COLUMNS + " columns, each with a name.");
        }
        if ("csv".equals(in.kind())) {
            format(s == null ? null : s.format(), "target.encoding");
            if (s == null || s.file() == null || !s.file().matches("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,100}")) {
                throw Wrong.input(
                        "target.file", "A file name has letters, digits, blanks, dots, _ and -, and no folder.");
            }
            if (s.replace() == null) {
                throw Wrong.input("target.replace", "Choose whether a run adds to the file or replaces it.");
            }
        } else if ("sql".equals(in.kind())) {
            if (s == null
                    || s.connection() == null
                    || s.table() == null
                    || s.table().isBlank()) {
                throw Wrong.input("target.table", "Choose a connection and a table.");
            }
            connections.row(s.connection());
        } else {
            throw Wrong.input("target.kind", "The kind is csv or sql.");
        }
        rows.putTarget(name, in.kind(), json.write(s));
        if (in.kind().equals("csv") && s.columns() != null && !s.columns().isEmpty()) {
            writeHeader(s);
        }
    }

    /** A file made for given columns has its header from the start; one that is there is left alone. */
    private void writeHeader(TargetSettings s) {
        if (Files.exists(data.file(s.file()))) {
            return;
        }
        List<String> names = s.columns().stream().map(FieldNames::name).toList();
        try (CsvTarget file = new CsvTarget(
                data.file(s.file()),
                s.format() == null ? CsvFormat.PLAIN : s.format().csv(),
                s.columns(),
                names,
                false)) {
            file.begin(new RecordTarget.Pass(0, RecordTarget.Pass.Stage.BEGINS, home.targets()));
        } catch (IOException e) {
            throw Wrong.input("target.file", "The file cannot be written: " + e.getMessage());
        }
    }

    @DELETE
    @Path("targets/{name}")
    public void deleteTarget(@PathParam("name") String name) {
        InUse.refuse("target", name, uses.ofTarget(name));
        if (rows.deleteTarget(name) == 0) {
            throw Wrong.notFound("target", name);
        }
    }

    /**
     * Gives a file target the columns that its file has: fields then go where their names stand, the others are not
     * written.
     */
    @POST
    @Path("targets/{name}/match")
    @Consumes(MediaType.WILDCARD)
    public void match(@PathParam("name") String name) {
        DataMapper.Row r = target(name);
        TargetSettings s = json.read(r.settings, TargetSettings.class);
        if (!r.kind.equals("csv")) {
            throw Wrong.input("target.kind", "Only a file has a header to be matched.");
        }
        try {
            List<String> there = CsvTarget.header(
                    data.file(s.file()),
                    s.format() == null ? CsvFormat.PLAIN : s.format().csv());
            if (there.isEmpty()) {
                throw Wrong.input("target.header", "The file " + s.file() + " has no header yet.");
            }
            rows.putTarget(
                    name, r.kind, json.write(new TargetSettings(s.file(), s.format(), s.replace(), there, null, null)));
        } catch (IOException e) {
            throw Wrong.input("target.file", "The file cannot be read: " + e.getMessage());
        }
    }

    @GET
    @Path("targets/{name}/columns")
    public List<Field> columns(@PathParam("name") String name, @QueryParam("environment") String environment) {
        DataMapper.Row r = target(name);
        try {
            return data.columns(r.kind, json.read(r.settings, TargetSettings.class), environment);
        } catch (IOException e) {
            throw Wrong.input("target.unreadable", "The target cannot be read: " + e.getMessage());
        }
    }

    private DataMapper.Row target(String name) {
        DataMapper.Row r = rows.target(name);
        if (r == null) {
            throw Wrong.notFound("target", name);
        }
        return r;
    }

    /** The first records of what is in a target now. */
    @GET
    @Path("targets/{name}/preview")
    public Preview targetPreview(
            @PathParam("name") String name,
            @QueryParam("environment") String environment,
            @QueryParam("limit") Integer limit) {
        DataMapper.Row r = target(name);
        TargetSettings s = json.read(r.settings, TargetSettings.class);
        if (r.kind.equals("csv")) {
            if (Files.notExists(data.file(s.file()))) {
                return new Preview(List.of(), List.of(), false, "The file has not been written yet.", null);
            }
            return preview(
                    new org.wirekettle.connector.CsvSource(
                            data.file(s.file()),
                            s.format() == null ? CsvFormat.PLAIN : s.format().csv()),
                    limit,
                    null);
        }
        return preview(
                data.open(
                        "sql",
                        new SourceSettings(null, null, null, s.connection(), "SELECT * FROM " + quoted(s.table())),
                        environment),
                limit,
                null);
    }

    private static String quoted(String table) {
        return java.util.Arrays.stream(table.split("\\.", 2))
                .map(p -> '"' + p.replace("\"", "\"\"") + '"')
                .collect(java.util.stream.Collectors.joining("."));
    }

    @GET
    @Path("targets/{name}/file")
    public Response download(@PathParam("name") String name) {
        DataMapper.Row r = target(name);
        TargetSettings s = json.read(r.settings, TargetSettings.class);
        if (!r.kind.equals("csv") || Files.notExists(data.file(s.file()))) {
            throw Wrong.notFound("file of target", name);
        }
        return Response.ok(data.file(s.file()).toFile(), "text/csv")
                .header(
                        "Content-Disposition",
                        "attachment; filename=\"" + s.file().replace("\"", "") + "\"")
                .build();
    }

    /** The statement that would make a table for these fields, to be shown first. */
    @POST
    @Path("tables/statement")
    @ReadsOnly
    public SqlStatement statement(MakeTable in) {
        check(in);
        return new SqlStatement(SqlTarget.createStatement(in.table(), in.fields()));
    }

    @POST
    @Path("tables")
    public void makeTable(MakeTable in) {
        check(in);
        try (Connection c =
                        connections.database(in.connection(), in.environment()).open();
                Statement s = c.createStatement()) {
            s.execute(SqlTarget.createStatement(in.table(), in.fields()));
        } catch (SQLException e) {
            throw Wrong.input("table.refused", "The database refuses to make the table: " + e.getMessage());
        }
    }

    private static void check(MakeTable in) {
        if (in.table() == null
                || in.table().isBlank()
                || in.fields() == null
                || in.fields().isEmpty()
                || in.fields().stream()
                        .anyMatch(
                                f -> f == null || f.label() == null || f.label().isBlank() || f.type() == null)) {
            throw Wrong.input(
                    "table.name", "Give the table a name and at least one column, each with a name and a type.");
        }
    }
}
