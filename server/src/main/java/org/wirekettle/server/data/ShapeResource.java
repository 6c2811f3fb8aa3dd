package org.wirekettle.server.data;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.file.Recognised;
import org.wirekettle.document.DocumentShape;
import org.wirekettle.document.Samples;
import org.wirekettle.document.SchemaText;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.server.access.ReadsOnly;
import org.wirekettle.server.common.Names;
import org.wirekettle.server.common.Uploads;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.ShapeSettings;
import org.wirekettle.server.data.Data.SourceSettings;
import org.wirekettle.shape.ShapeRows;

/** Shapes of documents: as schemas say, or as samples suggest. */
@Path("/api/data/shapes")
public class ShapeResource {
    private static final int MAX_SAMPLES = 50;
    /** Kinds of one answer. */
    private static final int MAX_KINDS = 100;

    private final Data data;
    private final Uploads uploads;
    private final Expressions expressions;

    ShapeResource(Data data, Uploads uploads, Expressions expressions) {
        this.data = data;
        this.uploads = uploads;
        this.expressions = expressions;
    }

    /** @param kind {@code xsd} or {@code json-schema} */
    public record KeptShape(String name, String kind, ShapeSettings settings) {}

    /** @param kind {@code xsd} or {@code json-schema} */
    public record ShapeChange(String kind, ShapeSettings settings) {
        public ShapeChange {
            Wrong.required(kind, "a kind");
            Wrong.required(settings, "settings");
        }
    }

    /**
     * A shape as it is understood.
     *
     * @param roots of XML: the elements that could be a document
     * @param example a document that fits
     */
    public record ReadShape(List<ShapeRows.Row> rows, List<String> roots, List<Problem> notes, String example) {}

    /** @param opened paths of recursive rows to lay out; may be null */
    public record ReadWish(
            String kind, ShapeSettings settings, @Nullable List<String> opened) {
        public ReadWish {
            Wrong.required(kind, "a kind");
            Wrong.required(settings, "settings");
        }
    }

    /** A sample. @param text of it. @param upload instead: an uploaded file of rows */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record SampleText(
            String name, @Nullable String text, @Nullable String upload) {}

    public record LearnWish(String name, List<SampleText> samples) {
        public LearnWish {
            Wrong.required(samples, "samples");
            if (samples.size() > MAX_SAMPLES || samples.contains(null)) {
                throw Wrong.malformed("There are at most " + MAX_SAMPLES + " samples.");
            }
        }
    }

    /** What samples suggest. */
    public record LearntShape(String kind, ShapeSettings settings, List<Problem> notes) {}

    @GET
    public List<KeptShape> shapes() {
        return data.shapes().list().stream()
                .map(d -> new KeptShape(d.name(), d.kind(), d.settings()))
                .toList();
    }

    @PUT
    @Path("{name}")
    public void putShape(@PathParam("name") String name, ShapeChange in) {
        data.shape(in.kind(), in.settings());
        data.shapes().put(name, in.kind(), in.settings());
    }

    @DELETE
    @Path("{name}")
    public void deleteShape(@PathParam("name") String name) {
        data.shapes().remove(name);
    }

    /** How a schema is understood, before it is kept. */
    @POST
    @Path("read")
    @ReadsOnly
    public ReadShape read(ReadWish in) {
        DocumentShape shape = data.shape(in.kind(), in.settings());
        List<ShapeRows.Row> rows = ShapeRows.of(
                shape.root(), Map.of(), in.opened() == null ? new HashSet<>() : new HashSet<>(in.opened()));
        return new ReadShape(rows, shape.roots(), shape.notes(), example(shape));
    }

    /** Which row's kinds to list, by a part of their name. @param kinds taken in rows around it */
    public record ShapeKinds(
            String path, @Nullable String text, @Nullable Map<String, String> kinds) {
        public ShapeKinds {
            Wrong.required(path, "a path");
        }
    }

    /** The first kinds that a row can be of, and how many there are. */
    public record KindsOfRow(List<ShapeRows.KindChoice> kinds, int total) {}

    @POST
    @Path("{name}/kinds")
    @ReadsOnly
    public KindsOfRow kinds(@PathParam("name") String name, ShapeKinds q) {
        Definitions.Definition<ShapeSettings> d = data.shapes().get(name);
        return ShapeRows.kindsAt(
                        data.shape(d.kind(), d.settings()).root(),
                        q.path(),
                        q.kinds() == null ? Map.of() : q.kinds(),
                        q.text() == null ? "" : q.text())
                .map(found -> new KindsOfRow(found.stream().limit(MAX_KINDS).toList(), found.size()))
                .orElseThrow(() -> Wrong.notFound("row", q.path()));
    }

    private String example(DocumentShape shape) {
        Fill.Filled filled = Fill.compile(Examples.of(shape.root(), false), shape.root(), expressions)
                .run(Scope.of(new Node("", "record")));
        return filled.body().isEmpty() ? "" : shape.text(shape.document(filled.body()));
    }

    /** What samples suggest; nothing is kept. */
    @POST
    @Path("learn")
    @ReadsOnly
    public LearntShape learn(LearnWish in) {
        String name = in.name() == null || in.name().isBlank() ? "document" : in.name();
        Names.check(name, "data.name");
        List<List<Field>> tables = new ArrayList<>();
        List<SchemaText> texts = new ArrayList<>();
        for (SampleText s : in.samples()) {
            String text = s.text() == null ? "" : s.text().strip();
            if (s.upload() != null) {
                tables.add(fields(s.upload(), s.name()));
            } else if (text.isEmpty() || text.startsWith("<") || text.startsWith("{") || text.startsWith("[")) {
                texts.add(sample(s));
            } else {
                tables.add(pasted(sample(s)));
            }
        }
        if (!tables.isEmpty() && !texts.isEmpty()) {
            throw Wrong.input("sample.kinds", "Some of the samples are rows and some are documents.");
        }
        Samples.Learnt learnt = tables.isEmpty() ? Samples.learn(name, texts) : Samples.ofRows(name, tables);
        return new LearntShape(learnt.language().id(), new ShapeSettings(learnt.files(), null), learnt.notes());
    }

    private static SchemaText sample(SampleText s) {
        try {
            return new SchemaText(s.name() == null || s.name().isBlank() ? "sample" : s.name(), s.text());
        } catch (IllegalArgumentException e) {
            throw Wrong.input("sample.size", e.getMessage());
        }
    }

    /** Rows that were pasted are read as those of a file are. */
    private List<Field> pasted(SchemaText s) {
        try {
            Uploads.Stored stored =
                    uploads.store(s.name(), new ByteArrayInputStream(s.text().getBytes(StandardCharsets.UTF_8)));
            return fields(stored.id(), s.name());
        } catch (IOException e) {
            throw Wrong.input("sample.unreadable", "The sample cannot be read: " + e.getMessage());
        }
    }

    private List<Field> fields(String upload, String name) {
        if (!uploads.isThere(upload)) {
            throw Wrong.notFound("file", upload);
        }
        try {
            Recognised r = Recognised.of(uploads.path(upload));
            return data.sourceKind(r.kind().id())
                    .open(SourceSettings.of(upload, name, r), null)
                    .fields();
        } catch (IOException e) {
            throw Wrong.input("sample.unreadable", "The sample " + name + " cannot be read: " + e.getMessage());
        }
    }
}
