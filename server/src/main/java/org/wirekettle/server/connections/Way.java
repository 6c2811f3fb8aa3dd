package org.wirekettle.server.connections;

import java.util.List;
import org.wirekettle.call.Certificates;
import org.wirekettle.call.ConnectionProbe;

/**
 * What a probe found on its way, as the pages show it.
 *
 * @param chain the certificates that the service shows, its own first; empty without TLS
 * @param isBelieved whether the chain leads to somebody who is believed
 * @param isGood whether the whole way could be gone
 */
public record Way(
        List<ConnectionProbe.Stage> stages, List<Certificates.Facts> chain, boolean isBelieved, boolean isGood) {
    static Way of(ConnectionProbe.Result found) {
        return new Way(found.stages(), found.chain(), found.isBelieved(), found.isGood());
    }
}
