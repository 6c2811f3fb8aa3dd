package org.wirekettle.server.flows;

import jakarta.enterprise.context.ApplicationScoped;
import java.util.List;
import java.util.Optional;
import org.wirekettle.call.Exchange;
import org.wirekettle.server.common.Json;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.contracts.BenchHistory;

/** Real answers kept for call steps while a flow is designed: what the steps after them show is computed from them. */
@ApplicationScoped
class KeptAnswers {
    private final FlowMapper flows;
    private final BenchHistory bench;
    private final Json json;

    KeptAnswers(FlowMapper flows, BenchHistory bench, Json json) {
        this.flows = flows;
        this.bench = bench;
        this.json = json;
    }

    void keep(long flow, String step, Exchange x) {
        flows.keepAnswer(flow, step, x.status(), x.request(), x.answer(), json.write(x.answerHeaders()));
    }

    /** @throws Wrong when there is no such flow or exchange, or no answer in it */
    void keepFromBench(long flow, String step, String contract, long exchange) {
        BenchHistory.Row kept = bench.get(contract, exchange);
        if (kept == null || flows.get(flow) == null) {
            throw Wrong.notFound("exchange or flow", kept == null ? exchange : flow);
        }
        if (kept.answer == null || kept.answer.length == 0) {
            throw Wrong.input("exchange.empty", "This exchange has no answer to be kept.");
        }
        flows.keepAnswer(flow, step, kept.status, kept.request, kept.answer, kept.answerHeaders);
    }

    Optional<Exchange> exchange(long flow, String step) {
        return Optional.ofNullable(flows.answer(flow, step)).map(kept -> {
            List<String[]> headers =
                    kept.headers == null ? List.of() : List.of(json.read(kept.headers, String[][].class));
            return Exchange.kept(kept.status, kept.request, headers, kept.answer);
        });
    }
}
