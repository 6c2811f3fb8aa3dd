package org.wirekettle.server.triggers;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.HeaderParam;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Pattern;
import org.eclipse.microprofile.openapi.annotations.media.Content;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.parameters.RequestBody;
import org.eclipse.microprofile.openapi.annotations.responses.APIResponse;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.Open;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.trigger.HttpAnswer;
import org.wirekettle.trigger.HttpAsked;
import org.wirekettle.trigger.page.PageAnswer;
import org.wirekettle.trigger.page.PageEndpoint;
import org.wirekettle.trigger.page.PageForm;
import org.wirekettle.trigger.page.PageTrigger;

/**
 * Run pages, for colleagues: with a link, or logged in. What they get is what the page shows, and nothing of the flow
 * behind it. Whether there is a page is not told to those who may not use it.
 */
@Path("/api/pages")
public class PageResource {
    /** Has the key of a link. It is behind the # of the address, which browsers send to nobody. */
    private static final String LINK = "X-Page-Link";

    private static final String NUMBER = "Idempotency-Key";
    private static final Pattern NUMBERS = Pattern.compile("[A-Za-z0-9-]{8,80}");
    private static final String WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    private final Endpoints endpoints;
    private final Answering answering;
    private final Keys keys;
    private final Traffic traffic;
    private final Caller caller;
    private final Clock clock;

    PageResource(Endpoints endpoints, Answering answering, Keys keys, Traffic traffic, Caller caller, Clock clock) {
        this.endpoints = endpoints;
        this.answering = answering;
        this.keys = keys;
        this.traffic = traffic;
        this.caller = caller;
        this.clock = clock;
    }

    /** A page that somebody may use. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PageEntry(
            String page,
            String title,
            @Nullable String text,
            @Nullable String owner) {}

    /**
     * A page as it is opened.
     *
     * @param name of whoever is logged in; null for one with a link, or without
     * @param ends when the link does; null for never
     * @param state ready, starting, paused or failed
     * @param form null while it cannot be told
     * @param usualMillis how long half of the answers took at most; null when there are none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record OpenedPage(
            @Nullable String name,
            @Nullable OffsetDateTime ends,
            String state,
            String title,
            @Nullable PageForm form,
            @Nullable Long usualMillis) {}

    /** Who asks. @param ends when they may no more; null for never */
    private record Asker(
            String name, boolean isLoggedIn, @Nullable OffsetDateTime ends) {}

    /** Those that one may use. */
    @GET
    @Allow(Role.GUEST)
    public List<PageEntry> list() {
        return endpoints.pages().stream()
                .map(l -> (PageTrigger) l.trigger())
                .filter(this::isForCaller)
                .map(p -> new PageEntry(p.page(), p.title(), p.text(), p.owner()))
                .toList();
    }

    @GET
    @Path("{page}")
    @Open(knowsCaller = true)
    public OpenedPage get(@PathParam("page") String page, @HeaderParam(LINK) @Nullable String link) {
        Live live = live(page, link);
        Asker who = who(live, link).orElseThrow();
        PageForm form = live.endpoint() instanceof PageEndpoint e ? e.form(clock.instant()) : null;
        OptionalLong usual = traffic.usualMicros(live.row().id);
        return new OpenedPage(
                who.isLoggedIn ? who.name : null,
                who.ends,
                live.state().name().toLowerCase(java.util.Locale.ROOT),
                ((PageTrigger) live.trigger()).title(),
                form,
                usual.isPresent() ? usual.getAsLong() / 1_000 : null);
    }

    /**
     * Asks the flow.
     *
     * @param number of this asking, made by the page: asked again with it, what came of the first is told
     * @param body an object with {@code inputs}, and {@code files} by the names of inputs
     */
    @POST
    @Path("{page}/ask")
    @Open(knowsCaller = true)
    @RequestBody(content = @Content(mediaType = "application/json", schema = @Schema(implementation = Object.class)))
    @APIResponse(
            responseCode = "200",
            content = @Content(mediaType = "application/json", schema = @Schema(implementation = PageAnswer.class)))
    public Response ask(
            @PathParam("page") String page,
            @HeaderParam(LINK) @Nullable String link,
            @HeaderParam(NUMBER) @Nullable String number,
            InputStream body)
            throws IOException {
        Live live = live(page, link);
        if (number == null || !NUMBERS.matcher(number).matches()) {
            throw Wrong.malformed("An asking has a number, in the header " + NUMBER + ": 8 to 80 letters and digits.");
        }
        int most = live.web().maxBodyBytes();
        byte[] bytes = body.readNBytes(most + 1);
        if (bytes.length > most) {
            throw Wrong.input("page.size", "What is sent is larger than the " + most + " bytes there may be.");
        }
        HttpAsked asked = new HttpAsked(
                "POST",
                live.trigger().askedBy(),
                Map.of(),
                null,
                name -> name.equals(NUMBER) ? List.of(number) : List.of(),
                bytes,
                null);
        Asker who = who(live, link).orElseThrow();
        String content = new String(bytes, StandardCharsets.UTF_8);
        Answering.Answered out = answering
                .again(live, asked, PageAnswer::refusal, who.name, content)
                .orElseGet(() -> who.isLoggedIn
                        ? answering.by(live, asked, PageAnswer::refusal, who.name)
                        : answering.answer(live, asked, link, PageAnswer::refusal, () -> false));
        Response.ResponseBuilder made = Response.status(out.answer().status())
                .type(out.answer().type())
                .header("Cache-Control", "no-store")
                .entity(out.answer().body());
        out.headers().forEach(made::header);
        return made.build();
    }

    /** What was answered, as a workbook; for a day. */
    @GET
    @Path("{page}/answers/{number}")
    @Open(knowsCaller = true)
    @Produces(WORKBOOK)
    public Response workbook(
            @PathParam("page") String page,
            @PathParam("number") String number,
            @HeaderParam(LINK) @Nullable String link) {
        Live live = live(page, link);
        Asker who = who(live, link).orElseThrow();
        HttpAnswer kept = answering.kept(live, who.name, number).orElseThrow(() -> Wrong.notFound("answer", number));
        if (!(live.endpoint() instanceof PageEndpoint e)) {
            throw Wrong.conflict("page.state", "This page does not work at the moment.");
        }
        try {
            return Response.ok(e.workbook(kept.body()), WORKBOOK)
                    .header("Content-Disposition", "attachment; filename=\"" + page + ".xlsx\"")
                    .header("Cache-Control", "no-store")
                    .build();
        } catch (IOException x) {
            throw Wrong.input("page.workbook", "No workbook can be made of it: " + x.getMessage() + ".");
        }
    }

    /** The page, for somebody who may use it. */
    private Live live(String page, String link) {
        Optional<Live> found = endpoints.pages().stream()
                .filter(l -> ((PageTrigger) l.trigger()).page().equals(page))
                .findFirst();
        if (found.isPresent() && who(found.get(), link).isPresent()) {
            return found.get();
        }
        if (link != null) {
            throw Wrong.unknownCaller(
                    "page.link", "This link does not work, or does not any more. Ask for another one.");
        }
        if (caller.name() == null) {
            throw Wrong.unknownCaller("access.login", "Log in first, or use the link that you were given.");
        }
        throw Wrong.notFound("page", page);
    }

    /** Whoever asks; empty when they may not. A link counts before an account. */
    private Optional<Asker> who(Live live, String link) {
        PageTrigger page = (PageTrigger) live.trigger();
        if (link != null) {
            return keys.holder(link, live.row().name).map(h -> new Asker(h.name(), false, h.until()));
        }
        if (caller.name() != null && isForCaller(page)) {
            return Optional.of(new Asker(caller.name(), true, null));
        }
        return page.open() ? Optional.of(new Asker(Keys.ANYBODY, false, null)) : Optional.empty();
    }

    /** Those who may publish a page may always look at it. */
    private boolean isForCaller(PageTrigger page) {
        return page.accounts() == null
                || page.accounts().contains(caller.name())
                || caller.role().compareTo(Role.BUILDER) >= 0;
    }
}
