package org.wirekettle.trigger.page;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.connector.Field;
import org.wirekettle.expression.EvaluationFailed;
import org.wirekettle.expression.ExpressionFault;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.flow.Reply;
import org.wirekettle.input.Input;
import org.wirekettle.input.Inputs;
import org.wirekettle.record.Node;
import org.wirekettle.shape.ScalarType;
import org.wirekettle.shape.ValueKind;
import org.wirekettle.trigger.page.PageField.AskedAs;
import org.wirekettle.trigger.page.PageField.PageChoice;
import org.wirekettle.trigger.page.PageForm.FormField;
import org.wirekettle.trigger.page.PageForm.ShownField;
import org.wirekettle.trigger.page.PageResult.PageColumn;
import org.wirekettle.trigger.page.PageResult.ShownAs;
import org.wirekettle.xml.FieldNames;

/** Puts what a page says and what a flow takes and answers together. Immutable. */
final class FormMaker {
    /** As expressions know what they look at. */
    private static final String CONTEXT = ".";

    private final PageTrigger trigger;
    private final Inputs inputs;
    private final Map<String, PageField> said = new LinkedHashMap<>();
    /** Of inputs that nobody is asked for, what they are; null for what the flow takes otherwise. */
    private final Map<String, String> hidden = new LinkedHashMap<>();

    private final Map<String, AskedFile> files = new HashMap<>();
    private final @Nullable List<ShownField> shown;
    private final boolean isList;
    /** Paths of fields of the reply that nobody is shown, by the names that expressions use. */
    private final Set<String> unseen = new HashSet<>();

    FormMaker(PageTrigger trigger, Inputs inputs, Reply.@Nullable Form reply) {
        this.trigger = trigger;
        this.inputs = inputs;
        trigger.fields().forEach(f -> said.put(f.input(), f));
        Set<String> unknown = new TreeSet<>(said.keySet());
        inputs.definition().forEach(i -> check(i, i.name(), unknown));
        if (!unknown.isEmpty()) {
            throw PageTrigger.refused("fields", "The flow has no input " + String.join(", ", unknown) + ".");
        }
        inputs.definition().forEach(this::sort);
        Map<String, PageColumn> columns = new HashMap<>();
        trigger.result().columns().forEach(c -> {
            columns.put(c.path(), c);
            if (c.as() == ShownAs.HIDDEN) {
                // Of a reply whose fields are not known before it is there, nothing more can be told of it.
                unseen.add(
                        Arrays.stream(c.path().split("/")).map(FieldNames::name).collect(Collectors.joining("/")));
            }
        });
        this.isList = reply != null && reply.isList();
        this.shown = reply == null ? List.of() : shown(reply.fields(), "", "", columns);
    }

    /** Takes those that there are out of the unknown, and looks whether what is said of them can be. */
    private void check(Input i, String path, Set<String> unknown) {
        unknown.remove(path);
        PageField f = said.get(path);
        boolean isInside = path.indexOf('/') >= 0;
        if (f != null && isInside && f.as() != null && f.as() != AskedAs.LINES) {
            throw PageTrigger.refused(
                    "fields", path + " is inside of another input, which alone can be hidden, or be a file.");
        }
        if (f != null && f.value() != null && (i.fields() != null || Boolean.TRUE.equals(i.many()))) {
            throw PageTrigger.refused("fields", path + " is no single value that could be given at first.");
        }
        if (f != null && f.value() != null && i.fields() == null && !Field.JSON.equals(i.type())) {
            ScalarType.builtIn(i.type() == null || i.type().isBlank() ? "string" : i.type())
                    .problem(f.value())
                    .ifPresent(why -> {
                        throw PageTrigger.refused("fields", "What stands in " + path + " at first " + why + ".");
                    });
        }
        if (i.fields() != null) {
            i.fields().forEach(inside -> check(inside, path + "/" + inside.name(), unknown));
        }
    }

    private void sort(Input i) {
        PageField f = said.get(i.name());
        AskedAs as = f == null ? null : f.as();
        if (as == AskedAs.FILE) {
            files.put(i.name(), AskedFile.of(i));
        } else if (as == AskedAs.HIDDEN) {
            boolean isMissing = Boolean.TRUE.equals(i.required()) && i.otherwise() == null && f.value() == null;
            if (isMissing) {
                throw PageTrigger.refused(
                        "fields", i.name() + " must be given: say what it is, if nobody is asked for it.");
            }
            hidden.put(i.name(), f.value());
        }
    }

    Map<String, String> hidden() {
        return hidden;
    }

    Map<String, AskedFile> files() {
        return files;
    }

    /** Fields of the reply; null where they are not known. */
    @Nullable
    List<ShownField> shown() {
        return shown;
    }

    PageForm form(Instant now) {
        Scope scope = Scope.of(new Node("", "record"), now, 0);
        List<FormField> out = new ArrayList<>();
        Map<String, Input> left = new LinkedHashMap<>();
        inputs.definition().forEach(i -> left.put(i.name(), i));
        said.keySet().forEach(name -> {
            Input i = left.remove(name);
            if (i != null && !hidden.containsKey(name)) {
                out.add(field(i, name, scope));
            }
        });
        left.values().forEach(i -> out.add(field(i, i.name(), scope)));
        return new PageForm(
                trigger.title(),
                trigger.text(),
                trigger.owner(),
                trigger.readers(),
                trigger.deed(),
                trigger.contact(),
                out,
                isList,
                shown,
                trigger.maxBodyBytes());
    }

    private FormField field(Input i, String path, Scope scope) {
        PageField f = said.get(path);
        boolean isMany = Boolean.TRUE.equals(i.many());
        boolean isInside = path.indexOf('/') >= 0;
        AskedFile file = files.get(path);
        List<FormField> inside = i.fields() == null
                ? null
                : i.fields().stream()
                        .map(x -> field(x, path + "/" + x.name(), scope))
                        .toList();
        String value = f == null ? null : f.value();
        return new FormField(
                i.name(),
                f == null || f.label() == null || f.label().isBlank() ? i.name() : f.label(),
                f == null ? null : f.unit(),
                f == null || f.help() == null ? i.text() : f.help(),
                file == null ? kind(i, f) : file.isRows() ? "rows" : "file",
                Boolean.TRUE.equals(i.required()) && i.otherwise() == null,
                isMany,
                i.least(),
                i.most(),
                i.length(),
                i.pattern(),
                choices(i, f),
                i.example(),
                value == null && !isInside && !isMany ? otherwise(i, scope) : value,
                inside);
    }

    private static String kind(Input i, PageField f) {
        if (Field.NESTED.equals(i.type())) {
            return i.fields() == null ? "json" : "group";
        }
        if (Field.JSON.equals(i.type())) {
            return "json";
        }
        if (f != null && f.as() == AskedAs.LINES) {
            return "lines";
        }
        return ValueKind.isWhole(i.type()) ? "integer" : kind(ValueKind.of(i.type()));
    }

    private static String kind(ValueKind kind) {
        return switch (kind) {
            case NUMBER -> "number";
            case TRUTH -> "truth";
            case DATE -> "date";
            case DATE_TIME -> "dateTime";
            case TIME -> "time";
            case TEXT -> "text";
        };
    }

    /** Values that there may be, with the words that the page has for them. */
    private static List<PageChoice> choices(Input i, PageField f) {
        List<PageChoice> words = f == null || f.choices() == null ? List.of() : f.choices();
        if (i.choices() == null) {
            return words.isEmpty() ? null : words;
        }
        return i.choices().stream()
                .map(c -> words.stream()
                        .filter(w -> w.value().equals(c))
                        .findFirst()
                        .orElseGet(() -> new PageChoice(c, null)))
                .toList();
    }

    /** What the flow would take, where that can be known before anything is given. */
    private String otherwise(Input i, Scope scope) {
        if (i.otherwise() == null || i.otherwise().isBlank() || i.fields() != null) {
            return null;
        }
        List<String> asked = new ArrayList<>();
        Expressions alone =
                inputs.expressions().knowing(List.of(), Map.of(CONTEXT, Set.of()), (name, field) -> asked.add(field));
        try {
            String value = alone.compile(i.otherwise()).string(scope);
            return value == null || value.isBlank() || !asked.isEmpty() ? null : value;
        } catch (ExpressionFault | EvaluationFailed e) {
            // It depends on what is given.
            return null;
        }
    }

    Set<String> unseen() {
        return unseen;
    }

    private List<ShownField> shown(List<Field> fields, String around, String names, Map<String, PageColumn> columns) {
        if (fields == null || fields.isEmpty()) {
            return null;
        }
        List<ShownField> out = new ArrayList<>();
        for (Field f : fields) {
            PageColumn c = columns.get(around + f.label());
            if (c != null && c.as() == ShownAs.HIDDEN) {
                unseen.add(names + f.name());
            } else {
                out.add(new ShownField(
                        f.label(),
                        c == null || c.label() == null || c.label().isBlank() ? f.label() : c.label(),
                        c == null ? null : c.unit(),
                        shownKind(f, c),
                        Field.isMany(f),
                        f.fields() == null
                                ? null
                                : shown(f.fields(), around + f.label() + "/", names + f.name() + "/", columns)));
            }
        }
        return out;
    }

    private static String shownKind(Field f, PageColumn c) {
        if (f.fields() != null || Field.NESTED.equals(f.type())) {
            return "group";
        }
        if (c != null && c.as() == ShownAs.FILE) {
            return "base64Binary".equals(f.type()) ? "bytes" : "file";
        }
        return Field.JSON.equals(f.type()) ? "json" : kind(ValueKind.of(f.type()));
    }
}
