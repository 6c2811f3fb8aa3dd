package org.wirekettle.trigger.page;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Fate;
import org.wirekettle.flow.Reply;
import org.wirekettle.flow.Trail;
import org.wirekettle.input.InputReading;
import org.wirekettle.input.Inputs;
import org.wirekettle.problem.Refused;
import org.wirekettle.record.JsonTree;
import org.wirekettle.trigger.Endpoint;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.HttpEndpoint;
import org.wirekettle.trigger.page.PageAnswer.Outcome;

/**
 * A flow that is asked on a page: makes a record of what was filled in, and of its trail what the page says. Immutable;
 * shareable.
 */
public final class PageEndpoint implements Endpoint {
    /** Numbers stay as they are written. */
    private static final ObjectMapper JSON = new ObjectMapper()
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .setNodeFactory(JsonNodeFactory.withExactBigDecimals(true));

    private static final String INPUTS = "inputs";
    private static final String FILES = "files";

    private final PageTrigger trigger;
    private final Inputs inputs;
    private final FormMaker form;
    private final PageWords words;
    private final Reply.@Nullable Form reply;
    /** Inputs that do not come from fields: those of files, and those nobody is asked for. */
    private final Set<String> elsewhere = new HashSet<>();

    private PageEndpoint(PageTrigger trigger, Inputs inputs, Reply.Form reply) {
        this.trigger = trigger;
        this.inputs = inputs;
        this.reply = reply;
        this.form = new FormMaker(trigger, inputs, reply);
        this.words = PageWords.of(trigger, inputs.expressions(), form.unseen());
        elsewhere.addAll(form.hidden().keySet());
        elsewhere.addAll(form.files().keySet());
    }

    /**
     * Puts a page and what the flow takes and answers together.
     *
     * @param reply null for a flow that answers nothing
     * @throws Refused with what does not go together
     */
    public static PageEndpoint of(PageTrigger trigger, Inputs inputs, Reply.@Nullable Form reply) {
        return new PageEndpoint(trigger, inputs, reply);
    }

    public PageTrigger trigger() {
        return trigger;
    }

    /** What the page shows before anything is asked. @param now what defaults take for the time */
    public PageForm form(Instant now) {
        return form.form(now);
    }

    /** The request that a page would make of a sample. @param json an object with a member for each input */
    public HttpAsked sample(String json) {
        byte[] body = ("{\"" + INPUTS + "\":" + json + "}").getBytes(StandardCharsets.UTF_8);
        return new HttpAsked("POST", trigger.askedBy(), Map.of(), null, n -> List.of(), body, null);
    }

    @Override
    public Read read(HttpAsked asked, Instant now) {
        InputReading reading = inputs.reading();
        try {
            JsonNode given = JSON.readTree(JsonTree.parser(new ByteArrayInputStream(asked.body())));
            if (!(given instanceof ObjectNode all)) {
                reading.problem("", "is no JSON object");
            } else {
                read(all, reading);
            }
        } catch (JsonProcessingException e) {
            reading.problem("", "is no JSON: " + JsonTree.words(e));
        } catch (IOException e) {
            reading.problem("", "cannot be read: " + e.getMessage());
        }
        InputReading.Result result = reading.finish(now, now.toEpochMilli());
        return result.problems().isEmpty()
                ? new Read(result.record(), null)
                : new Read(
                        null,
                        new PageAnswer(
                                        Outcome.UNFIT,
                                        "Something does not fit yet.",
                                        null,
                                        null,
                                        null,
                                        result.problems(),
                                        null)
                                .as(400));
    }

    private void read(ObjectNode all, InputReading reading) throws JsonProcessingException {
        all.fieldNames().forEachRemaining(n -> {
            if (!n.equals(INPUTS) && !n.equals(FILES)) {
                reading.problem("/" + n, "is not known here; there are inputs and files");
            }
        });
        if (all.has(INPUTS)) {
            reading.json(JSON.writeValueAsBytes(all.get(INPUTS)), elsewhere);
        }
        form.hidden().forEach((name, value) -> {
            if (value != null) {
                reading.texts(name, "/" + name, List.of(value));
            }
        });
        all.path(FILES).fields().forEachRemaining(f -> {
            AskedFile as = form.files().get(f.getKey());
            if (as == null) {
                reading.problem("/" + f.getKey(), "is no file here");
            } else if (!f.getValue().isNull()) {
                as.read(f.getValue(), reading);
            }
        });
    }

    @Override
    public HttpAnswer answer(HttpAsked asked, Trail trail, long run) {
        return trail.fate() == Fate.DONE
                ? words.done(trail, reply, run).as(200)
                : words.failed(trail, run)
                        .as(HttpEndpoint.usual(trail.code() == null ? "" : trail.code(), trail.fate()));
    }

    @Override
    public HttpAnswer problem(HttpAsked asked, HttpAnswer.Body problem) {
        return PageAnswer.refusal(problem);
    }

    @Override
    public String content(HttpAsked asked) {
        return new String(asked.body(), StandardCharsets.UTF_8);
    }

    /**
     * An answer to be kept as a workbook.
     *
     * @param answer as the page got it
     * @throws IOException when there is nothing in it for a workbook
     */
    public byte[] workbook(byte[] answer) throws IOException {
        return PageWorkbook.of(
                form.shown(),
                reply != null && reply.isList(),
                JSON.readTree(answer).path("reply"));
    }
}
