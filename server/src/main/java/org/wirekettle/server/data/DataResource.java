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
import org.wirekettle.connector.SqlTarget;
import org.wirekettle.record.FieldNames;
import org.wirekettle.record.Node;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Trees;
import org.wirekettle.server.common.Trees.Tree;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.connections.Connections;
import org.wirekettle.server.data.Data.Format;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.server.data.Data.TargetSettings;

/** Sources and targets: upload, preview, change, make. */
@Path("/api/data")
public class DataResource {
    private static final int MAX_PREVIEWED = 500;
    private final DataMapper rows;
    private final Data data;
    private final Home home;
    private final Json json;
    private final Connections connections;

    DataResource(DataMapper rows, Data data, Home home, Json json, Connections connections) {
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

    /** Records as they are now. {@code more} when there are more than shown; {@code problem} when reading ended early. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Preview(List<Field> fields, List<Tree> records, boolean more, String problem) {}

    public record SqlStatement(String sql) {}

    public record MakeTable(String connection, String environment, String table, List<Field> fields) {}

    @POST
    @Path("files")
    @Consumes(MediaType.APPLICATION_OCTET_STREAM)
    public StoredFile upload(@QueryParam("name") String name, InputStream body) throws IOException {
        Files.createDirectories(home.uploads());
        java.nio.file.Path temporary = Files.createTempFile(home.uploads(), "upload", ".part");
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            long bytes = Files.copy(new DigestInputStream(body, digest), temporary, StandardCopyOption.REPLACE_EXISTING);
            if (bytes == 0) {
                throw Wrong.input("file.empty", "The file " + name + " is empty.");
            }
            String id = HexFormat.of().formatHex(digest.digest());
            Files.move(temporary, home.uploads().resolve(id), StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            rows.putFile(id, name, bytes);
            return new StoredFile(id, name, bytes, Format.of(CsvFormat.recognise(home.uploads().resolve(id))));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every JDK has SHA-256", e);
        } finally {
            Files.deleteIfExists(temporary);
        }
    }

    @GET
    @Path("sources")
    public List<SourceView> sources() {
        return rows.sources().stream().map(r -> new SourceView(r.name, r.kind, json.read(r.settings, SourceSettings.class))).toList();
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
            try {
                Charset.forName(s.format().encoding());
            } catch (IllegalCharsetNameException | UnsupportedCharsetException | NullPointerException e) {
                throw Wrong.input("source.encoding", "There is no encoding " + (s.format() == null ? "given" : s.format().encoding()) + ".");
            }
        } else if ("sql".equals(in.kind())) {
            if (s == null || s.query() == null || s.query().isBlank() || s.connection() == null) {
                throw Wrong.input("source.query", "Choose a connection and write a query.");
            }
            connections.row(s.connection());
        } else {
            throw Wrong.input("source.kind", "The kind is csv or sql.");
        }
    }

    @DELETE
    @Path("sources/{name}")
    public void deleteSource(@PathParam("name") String name) {
        if (rows.deleteSource(name) == 0) {
            throw Wrong.notFound("source", name);
        }
    }

    /** Shows what a definition would give, before it is kept. */
    @POST
    @Path("preview")
    @org.wirekettle.server.access.Allow(org.wirekettle.server.access.Role.VIEWER)
    public Preview preview(SourceChange in, @QueryParam("environment") String environment, @QueryParam("limit") Integer limit) {
        check(in);
        return preview(data.open(in.kind(), in.settings(), environment), limit);
    }

    @GET
    @Path("sources/{name}/preview")
    public Preview preview(@PathParam("name") String name, @QueryParam("environment") String environment, @QueryParam("limit") Integer limit) {
        return preview(data.source(name, environment).orElseThrow(() -> Wrong.notFound("source", name)), limit);
    }

    private static Preview preview(RecordSource source, Integer limit) {
        int wanted = Math.min(limit == null ? 100 : limit, MAX_PREVIEWED);
        List<Tree> records = new ArrayList<>();
        try (RecordSource.Stream in = source.open()) {
            Node r = null;
            while (records.size() < wanted && (r = in.next()) != null) {
                records.add(Trees.of(r));
            }
            return new Preview(source.fields(), records, r != null && in.next() != null, null);
        } catch (IOException e) {
            return new Preview(List.of(), records, false, e.getMessage());
        }
    }

    @GET
    @Path("targets")
    public List<TargetView> targets() {
        return rows.targets().stream().map(r -> new TargetView(r.name, r.kind, json.read(r.settings, TargetSettings.class))).toList();
    }

    @PUT
    @Path("targets/{name}")
    public void putTarget(@PathParam("name") String name, TargetChange in) {
        Names.check(name, "data.name");
        TargetSettings s = in.settings();
        if ("csv".equals(in.kind())) {
            if (s == null || s.file() == null || !s.file().matches("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,100}")) {
                throw Wrong.input("target.file", "A file name has letters, digits, blanks, dots, _ and -, and no folder.");
            }
            if (s.replace() == null) {
                throw Wrong.input("target.replace", "Choose whether a run adds to the file or replaces it.");
            }
        } else if ("sql".equals(in.kind())) {
            if (s == null || s.connection() == null || s.table() == null || s.table().isBlank()) {
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
        try (CsvTarget file = new CsvTarget(data.file(s.file()), s.format() == null ? CsvFormat.PLAIN : s.format().csv(), s.columns(), names, false)) {
            file.prepare(List.of());
            file.commit();
        } catch (IOException e) {
            throw Wrong.input("target.file", "The file cannot be written: " + e.getMessage());
        }
    }

    @DELETE
    @Path("targets/{name}")
    public void deleteTarget(@PathParam("name") String name) {
        if (rows.deleteTarget(name) == 0) {
            throw Wrong.notFound("target", name);
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
    public Preview targetPreview(@PathParam("name") String name, @QueryParam("environment") String environment, @QueryParam("limit") Integer limit) {
        DataMapper.Row r = target(name);
        TargetSettings s = json.read(r.settings, TargetSettings.class);
        if (r.kind.equals("csv")) {
            if (Files.notExists(data.file(s.file()))) {
                return new Preview(List.of(), List.of(), false, "The file has not been written yet.");
            }
            return preview(new org.wirekettle.connector.CsvSource(data.file(s.file()), s.format() == null ? CsvFormat.PLAIN : s.format().csv()), limit);
        }
        return preview(data.open("sql", new SourceSettings(null, null, null, s.connection(), "SELECT * FROM " + quoted(s.table())), environment), limit);
    }

    private static String quoted(String table) {
        return java.util.Arrays.stream(table.split("\\.", 2)).map(p -> '"' + p.replace("\"", "\"\"") + '"').collect(java.util.stream.Collectors.joining("."));
    }

    @GET
    @Path("targets/{name}/file")
    public Response download(@PathParam("name") String name) {
        DataMapper.Row r = target(name);
        TargetSettings s = json.read(r.settings, TargetSettings.class);
        if (!r.kind.equals("csv") || Files.notExists(data.file(s.file()))) {
            throw Wrong.notFound("file of target", name);
        }
        return Response.ok(data.file(s.file()).toFile(), "text/csv").header("Content-Disposition", "attachment; filename=\"" + s.file().replace("\"", "") + "\"").build();
    }

    /** The statement that would make a table for these fields, to be shown first. */
    @POST
    @Path("tables/statement")
    public SqlStatement statement(MakeTable in) {
        return new SqlStatement(SqlTarget.createStatement(in.table(), in.fields()));
    }

    @POST
    @Path("tables")
    public void makeTable(MakeTable in) {
        if (in.table() == null || in.table().isBlank() || in.fields() == null || in.fields().isEmpty()) {
            throw Wrong.input("table.name", "Give the table a name and at least one column.");
        }
        try (Connection c = connections.database(in.connection(), in.environment()).open(); Statement s = c.createStatement()) {
            s.execute(SqlTarget.createStatement(in.table(), in.fields()));
        } catch (SQLException e) {
            throw Wrong.input("table.refused", "The database refuses to make the table: " + e.getMessage());
        }
    }
}
