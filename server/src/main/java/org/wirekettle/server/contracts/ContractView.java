package org.wirekettle.server.contracts;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.OffsetDateTime;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.HttpTemplate;
import org.wirekettle.contract.Operation;
import org.wirekettle.problem.Place;
import org.wirekettle.problem.Problem;
import org.wirekettle.shape.Shape;

/** A contract as it is shown. @param version the one shown; {@code versions} has all, the current one first */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ContractView(
        String name,
        @Nullable String source,
        int version,
        OffsetDateTime readAt,
        @Nullable String targetNamespace,
        @Nullable String documentation,
        List<ServiceView> services,
        List<Problem> notes,
        List<String> documents,
        List<VersionView> versions,
        @Nullable String connection,
        @Nullable OffsetDateTime comparedAt,
        @Nullable String compared) {
    /** @param of the version shown, with where it came from */
    static ContractView of(ContractMapper.Row row, VersionView of, List<VersionView> versions, Contract c) {
        List<ServiceView> services = c.services().stream()
                .map(s -> new ServiceView(
                        s.name(),
                        s.documentation(),
                        s.ports().stream().map(ContractView::port).toList()))
                .toList();
        return new ContractView(
                row.name,
                of.source(),
                of.version(),
                of.readAt(),
                c.targetNamespace(),
                c.documentation(),
                services,
                c.notes(),
                c.documents().stream().map(Contract.Document::uri).toList(),
                versions,
                row.connection,
                row.comparedAt,
                row.compared);
    }

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record OperationView(
            String name,
            @Nullable String documentation,
            String style,
            String use,
            String direction,
            @Nullable String action,
            int requestFields,
            Integer answerFields,
            List<String> faults,
            List<String> headerFaults,
            List<String> headers,
            @Nullable String unusable,
            @Nullable Place place,
            @Nullable HttpView http) {}

    /**
     * How it is asked for by plain HTTP.
     *
     * @param mediaType of its body; null for none
     * @param idempotent whether asking twice does no more than asking once
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record HttpView(
            String method, String path, @Nullable String mediaType, boolean idempotent) {
        static HttpView of(HttpTemplate t) {
            return new HttpView(
                    t.method(), t.path(), t.body() == null ? null : t.body().mediaType(), t.isIdempotent());
        }
    }

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PortView(
            String name,
            String binding,
            String protocol,
            @Nullable String address,
            List<OperationView> operations,
            List<Contract.Requirement> requirements) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ServiceView(String name, @Nullable String documentation, List<PortView> ports) {}

    public record VersionView(int version, @Nullable String source, OffsetDateTime readAt) {}

    private static PortView port(Contract.Port p) {
        return new PortView(
                p.name(),
                p.binding(),
                p.protocol().label(),
                p.address(),
                p.operations().stream().map(ContractView::operation).toList(),
                p.requirements());
    }

    private static OperationView operation(Operation o) {
        return new OperationView(
                o.name(),
                o.documentation(),
                lower(o.style()),
                lower(o.use()),
                lower(o.direction()).replace('_', ' '),
                o.action(),
                o.request() == null ? 0 : fields(o.request().root()),
                o.answer() == null ? null : fields(o.answer().root()),
                o.faults().stream()
                        .filter(f -> !f.isInHeader())
                        .map(Operation.DeclaredFault::name)
                        .toList(),
                o.faults().stream()
                        .filter(Operation.DeclaredFault::isInHeader)
                        .map(Operation.DeclaredFault::name)
                        .toList(),
                o.request() == null
                        ? List.of()
                        : o.request().root().children().stream()
                                .filter(h -> h.role() == Shape.Role.HEADER)
                                .map(Shape::name)
                                .toList(),
                o.unusable(),
                o.place(),
                o.http() == null ? null : HttpView.of(o.http()));
    }

    private static String lower(Enum<?> e) {
        return e.name().toLowerCase(java.util.Locale.ROOT);
    }

    /** How many fields one level inside the message there are; a hint at its size. */
    private static int fields(Shape root) {
        return root.children().stream()
                .filter(c -> c.role() == Shape.Role.BODY)
                .mapToInt(c -> Math.max(1, c.children().size()))
                .sum();
    }
}
