package org.wirekettle.server.runs;

import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.xml.stream.XMLStreamException;
import org.jboss.logging.Logger;
import org.wirekettle.connector.BadRecord;
import org.wirekettle.flow.CompiledFlow;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;
import org.wirekettle.run.AnsweredCall;
import org.wirekettle.run.RunInput;
import org.wirekettle.run.Spool;

/** Where the records of a pass come from: the source, those that are sent again, the groups that were made. */
@ApplicationScoped
public class RunInputs {
    private static final Logger LOG = Logger.getLogger(RunInputs.class);

    private final RunMapper rows;
    private final Gathering gathering;

    RunInputs(RunMapper rows, Gathering gathering) {
        this.rows = rows;
        this.gathering = gathering;
    }

    /**
     * The records of a pass.
     *
     * @param folder of the run's files
     * @param begins whether nothing of the pass has been accounted for
     */
    RunInput of(RunMapper.Row run, PassMapper.Row pass, CompiledFlow flow, Path folder, boolean begins)
            throws IOException {
        return switch (pass.kind) {
            case PassMapper.SOURCE -> from(pass.first, source(run, flow, folder, begins && pass.first == 0));
            case PassMapper.REQUESTS -> none();
            case PassMapper.GROUPS -> gathering.groups(run.id, pass.pass, flow.gathers());
            default -> again(run.id, pass.pass);
        };
    }

    /** Where the part of a source begins that a pass works on. Where it ends, its mark says. */
    private static RunInput from(long first, RunInput in) throws IOException {
        for (long i = 0; i < first && in.next() != null; i++) {
            // before the part
        }
        return in;
    }

    private RunInput source(RunMapper.Row row, CompiledFlow flow, Path folder, boolean begins) throws IOException {
        long limit = row.scope.startsWith("first:") ? Long.parseLong(row.scope.substring(6)) : Long.MAX_VALUE;
        long only = row.scope.startsWith("record:") ? Long.parseLong(row.scope.substring(7)) : 0;
        if (row.expected == null) {
            rows.expect(row.id, only > 0 ? Long.valueOf(1) : expected(flow, limit));
        }
        if (flow.source().isRepeatable()) {
            return RunInput.of(flow.source(), limit, only);
        }
        Path spool = folder.resolve("source.spool");
        if (Files.notExists(spool) && !begins) {
            throw new IOException(
                    "the run's copy of its query's rows is gone; another reading may give other rows. Start a new"
                            + " run.");
        }
        return Spool.of(spool, Files.exists(spool) ? none() : RunInput.of(flow.source(), limit, only));
    }

    /** @return null when counting takes too long, or the source does not say */
    private static Long expected(CompiledFlow flow, long limit) {
        try {
            return Math.min(limit, flow.source().count());
        } catch (IOException e) {
            LOG.debugf(e, "not counted");
            return limit == Long.MAX_VALUE ? null : limit;
        }
    }

    private static RunInput none() {
        return new RunInput() {
            @Override
            public Numbered next() {
                return null;
            }

            @Override
            public void close() {
                // nothing was opened
            }
        };
    }

    /** The records that are sent again in the pass, as they are mended. */
    private RunInput again(long run, int pass) {
        return new RunInput() {
            private static final int PAGE = 200;
            private final List<RunMapper.AsideRow> page = new ArrayList<>();
            private long offset;

            @Override
            public Numbered next() throws IOException {
                if (page.isEmpty()) {
                    page.addAll(rows.sending(run, pass, PAGE, offset));
                    offset += page.size();
                }
                if (page.isEmpty()) {
                    return null;
                }
                RunMapper.AsideRow r = page.remove(0);
                try {
                    Node record = NodeXml.read(r.record);
                    if (r.original != null) {
                        BadRecord.mended(record);
                    }
                    return new Numbered(
                            r.number,
                            r.leg,
                            r.records,
                            record,
                            r.callAgain ? List.of() : AnsweredCall.read(r.answers),
                            r.original != null);
                } catch (XMLStreamException e) {
                    throw new IOException("the kept record " + r.number + " is damaged", e);
                }
            }

            @Override
            public void close() {
                // pages are read whole
            }
        };
    }
}
