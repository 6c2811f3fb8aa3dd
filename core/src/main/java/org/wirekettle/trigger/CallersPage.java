package org.wirekettle.trigger;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.input.Input;
import org.wirekettle.trigger.HttpTrigger.InputPlace;
import org.wirekettle.trigger.HttpTrigger.PlaceOf;
import org.wirekettle.trigger.OpenApiDocument.Published;
import org.wirekettle.xml.Escape;

/** A page that tells those who ask what there is to be asked, and how: HTML that needs no script. Used once. */
public final class CallersPage {
    private static final int MOST_SAMPLES = 3;
    private static final String STYLE = """
        body{font:15px/1.5 "IBM Plex Sans",system-ui,sans-serif;color:#1e2530;background:#f6f5ef;margin:0}
        main{max-width:960px;margin:0 auto;padding:24px}
        h1{font-size:22px}h2{font-size:16px;margin:0}h2 code{font-size:15px}
        section{background:#fffefa;border:1px solid #ddd9cc;border-radius:4px;padding:16px 18px;margin:16px 0}
        table{border-collapse:collapse;width:100%;margin:10px 0}
        th,td{text-align:left;vertical-align:top;border-top:1px solid #e4e0d4;padding:4px 12px 4px 0}
        th:first-child{width:11em}th{font-weight:600;font-size:13px}.soft{color:#5b6270}
        code,pre,input{font-family:"IBM Plex Mono",ui-monospace,monospace;font-size:13px}
        pre{background:#f0eee6;padding:10px;overflow-x:auto;margin:8px 0}
        input,button{font-size:14px;padding:5px 10px;border:1px solid #b9b3a2;border-radius:4px;background:#fff}
        button{background:#a4522a;color:#fff;border-color:#a4522a}
        @media(prefers-color-scheme:dark){body{background:#1b1e24;color:#e6e3da}section{background:#22262e;
        border-color:#3a3f4a}th,td{border-color:#3a3f4a}pre{background:#1b1e24}.soft{color:#a9adb8}
        a{color:#e0a27c}input{background:#1b1e24;color:inherit}}
        """;

    private final StringBuilder out = new StringBuilder();

    private CallersPage() {}

    /**
     * A SOAP service.
     *
     * @param operations with what each is for
     */
    public record Service(String address, Map<String, String> operations) {}

    /**
     * Writes it.
     *
     * @param server the address before all paths
     * @param key whether a key was given that is one; null where none was given
     */
    public static String of(String server, List<Published> http, List<Service> services, @Nullable Boolean key) {
        CallersPage p = new CallersPage();
        p.page(server, http, services, key);
        return p.out.toString();
    }

    private void page(String server, List<Published> http, List<Service> services, @Nullable Boolean key) {
        out.append("<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\">"
                + "<meta name=\"viewport\" content=\"width=device-width\"><title>What can be asked here</title><style>"
                + STYLE + "</style></head><body><main><h1>What can be asked here</h1>");
        out.append("<form method=\"post\"><label for=\"key\">With a key there may be more: </label>"
                + "<input id=\"key\" name=\"key\" type=\"password\" autocomplete=\"off\"> "
                + "<button>Show what it may</button></form>");
        String said = key == null
                ? "Shown is what anybody may ask."
                : key
                        ? "Shown is what this key may ask."
                        : "This is no key, or one that has ended. Shown is what anybody may ask.";
        paragraph(said + " The same as OpenAPI 3.1: openapi.json, with the key as a bearer token.");
        if (http.isEmpty() && services.isEmpty()) {
            paragraph("There is nothing.");
        }
        http.forEach(h -> endpoint(server, h));
        services.forEach(this::service);
        out.append("</main></body></html>");
    }

    private void paragraph(String text) {
        out.append("<p class=\"soft\">").append(Escape.xml(text)).append("</p>");
    }

    private void endpoint(String server, Published p) {
        HttpEndpoint e = p.endpoint();
        HttpTrigger t = e.trigger();
        out.append("<section><h2><code>").append(t.method()).append(' ').append(Escape.xml(server + t.path()));
        out.append("</code></h2>");
        paragraph((t.text() == null ? "" : t.text() + ". ") + (t.open() ? "Anybody may ask it." : "It needs a key."));
        Map<String, Input> inputs = e.inputs().definition().stream().collect(Collectors.toMap(Input::name, i -> i));
        if (!e.places().isEmpty()) {
            out.append("<table><tr><th>name</th><th>where</th><th>type</th><th></th><th>what it is</th></tr>");
            for (InputPlace at : e.places()) {
                Input i = inputs.get(at.input());
                row(
                        at.in() == PlaceOf.BODY ? at.input() : at.name(),
                        at.in().words(),
                        type(i),
                        i.otherwise() != null
                                ? "else " + i.otherwise()
                                : Boolean.TRUE.equals(i.required()) ? "required" : "",
                        i.text());
            }
            out.append("</table>");
        }
        p.samples().stream()
                .limit(MOST_SAMPLES)
                .filter(sample -> SampleJson.of(sample.json()).isPresent())
                .forEach(sample -> {
                    String curl = HttpSample.of(e, sample.json()).curl(server, t.open());
                    out.append("<span class=\"soft\">")
                            .append(Escape.xml(sample.name()))
                            .append("</span><pre>");
                    Escape.text(curl, out);
                    out.append("</pre>");
                });
        answers(e);
        out.append("</section>");
    }

    private void answers(HttpEndpoint e) {
        Map<String, String> texts = new TreeMap<>();
        if (e.reply() == null) {
            texts.put("204", "done");
        } else {
            String fields = e.reply().fields().stream().map(f -> f.label()).collect(Collectors.joining(", "));
            texts.put("200", (e.reply().isList() ? "a list, of each " : "") + fields);
        }
        texts.put("400", "values that do not fit, all listed");
        texts.put("422, 502, 503, 504", "it was not done; the problem says why");
        e.trigger().replies().forEach(r -> texts.put(String.valueOf(r.status()), String.join(", ", r.codes())));
        out.append("<table><tr><th>answered with</th><th></th></tr>");
        texts.forEach(this::row);
        out.append("</table>");
    }

    private static String type(Input i) {
        List<String> limits = new ArrayList<>();
        if (i.least() != null || i.most() != null) {
            limits.add((i.least() == null ? "" : "from " + i.least()) + (i.most() == null ? "" : " to " + i.most()));
        }
        if (i.length() != null) {
            limits.add("at most " + i.length() + " characters");
        }
        if (i.pattern() != null) {
            limits.add("like " + i.pattern());
        }
        if (i.choices() != null) {
            limits.add("one of " + String.join(", ", i.choices()));
        }
        return (Boolean.TRUE.equals(i.many()) ? "list of " : "")
                + (i.type() == null ? "string" : i.type())
                + (limits.isEmpty() ? "" : ", " + String.join(", ", limits).strip());
    }

    private void service(Service s) {
        out.append("<section><h2><code>SOAP ").append(Escape.xml(s.address)).append("</code></h2><p><a href=\"");
        String wsdl = Escape.xml(s.address + "?wsdl");
        out.append(wsdl).append("\">").append(wsdl).append("</a></p><table><tr><th>operation</th><th></th></tr>");
        s.operations.forEach(this::row);
        out.append("</table></section>");
    }

    private void row(String... cells) {
        out.append("<tr>");
        for (String c : cells) {
            out.append("<td>").append(c == null ? "" : Escape.xml(c)).append("</td>");
        }
        out.append("</tr>");
    }
}
