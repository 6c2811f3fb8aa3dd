package org.wirekettle.server.settings;

import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.QueryParam;
import java.time.OffsetDateTime;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.AuditMapper;
import org.wirekettle.server.access.Caller;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.ExchangeLimits;
import org.wirekettle.server.settings.Retention.Days;

/** How long things are kept, and who did what; for administrators. */
@Path("/api/settings")
@Allow(Role.ADMIN)
public class SettingResource {
    private static final int MAX_DAYS = 36_500;
    private static final int PAGE = 200;
    private final Retention retention;
    private final AuditMapper audit;
    private final Caller caller;
    private final Outbound outbound;

    SettingResource(Retention retention, AuditMapper audit, Caller caller, Outbound outbound) {
        this.outbound = outbound;
        this.retention = retention;
        this.audit = audit;
        this.caller = caller;
    }

    /** @param detail what else is known; null for nothing */
    public record AuditEntry(
            long id,
            OffsetDateTime at,
            String account,
            String address,
            String method,
            String path,
            int status,
            @Nullable String detail) {}

    @GET
    @Path("retention")
    public Days retention() {
        return retention.days();
    }

    /** Changes how long things are kept, and removes at once what is too old by then. */
    @PUT
    @Path("retention")
    public Retention.Removed changeRetention(Days in) {
        for (int days : new int[] {in.runs(), in.exchanges(), in.uploads(), in.audit()}) {
            if (days < 1 || days > MAX_DAYS) {
                throw Wrong.input("retention.days", "Each is kept from 1 to " + MAX_DAYS + " days.");
            }
        }
        within("exchangesEach", in.exchangesEach(), ExchangeLimits.MAX_EACH, "exchanges of each operation");
        within("exchangeKilobytes", in.exchangeKilobytes(), ExchangeLimits.MAX_KILOBYTES, "kB of one exchange");
        within("received", in.received(), MAX_DAYS, "days files of answers");
        caller.note("runs " + in.runs() + ", exchanges " + in.exchanges() + ", uploads " + in.uploads() + ", audit "
                + in.audit() + " days; "
                + in.limits().each() + " exchanges of an operation, each at most "
                + in.limits().bytes() / 1024 + " kB");
        retention.change(in, caller.name());
        return retention.apply();
    }

    private static void within(String code, @Nullable Integer value, int most, String what) {
        if (value != null && (value < 1 || value > most)) {
            throw Wrong.input("retention." + code, "From 1 to " + most + " " + what + " can be kept.");
        }
    }

    /** Where calls may go. */
    @GET
    @Path("outbound")
    public Outbound.OutboundList outbound() {
        return outbound.read();
    }

    @PUT
    @Path("outbound")
    public void changeOutbound(List<Outbound.OutboundEntry> in) {
        outbound.change(in, caller.name());
        caller.note(in.stream().map(Outbound.OutboundEntry::entry).collect(Collectors.joining(", ")));
    }

    /**
     * The audit log, newest first. @param before entries older than that one; null for the newest. @param text an
     * account, or part of a path
     */
    @GET
    @Path("audit")
    public List<AuditEntry> audit(@QueryParam("before") Long before, @QueryParam("text") String text) {
        String wanted = text == null || text.isBlank() || text.indexOf('\0') >= 0 ? null : text.strip();
        return audit.list(before, wanted, PAGE).stream()
                .map(r -> new AuditEntry(r.id, r.at, r.account, r.address, r.method, r.path, r.status, r.detail))
                .toList();
    }
}
