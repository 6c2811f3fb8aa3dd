package org.wirekettle.expression;

import java.io.BufferedOutputStream;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.PrintStream;
import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.time.Instant;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.wirekettle.record.Node;

/**
 * The process that evaluates expressions for another one: requests come on standard input, answers go to standard
 * output, each with its length before it. It ends when the input ends, when an evaluation takes too long, and when
 * memory is used up.
 */
public final class EvaluatorMain {
    static final int READY = 0x574B4531;
    static final int OVER_TIME = 4;
    /** What the virtual machine exits with when told to at an OutOfMemoryError. */
    static final int OVER_MEMORY = 3;

    static final int MAX_MESSAGE_BYTES = 48 * 1024 * 1024;
    static final byte COMPILE = 0;
    static final byte STRING = 1;
    static final byte NODES = 2;
    static final byte TEST = 3;
    static final byte GOOD = 0;
    static final byte FAULT = 1;
    static final byte FAILED = 2;
    static final byte KNOWN = 0;
    static final byte FOREIGN = 1;
    private static final int MAX_COMPILED = 500;
    private static final int TICK_MILLIS = 25;

    private static final ThreadMXBean TIMES = ManagementFactory.getThreadMXBean();
    /**
     * Of computing, after which an evaluation has taken too long: a machine that is busy elsewhere is not its fault.
     */
    private static volatile long mostCpuNanos = Long.MAX_VALUE;

    private static volatile long deadlineNanos = Long.MAX_VALUE;

    private final FullEngine engine = new FullEngine();
    private final TransformEngine transforms = new TransformEngine(engine);
    private final Map<String, FullProgram> compiled = new LinkedHashMap<>(16, 0.75f, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, FullProgram> eldest) {
            return size() > MAX_COMPILED;
        }
    };

    private EvaluatorMain() {}

    /** @param args the time for one evaluation, in milliseconds */
    public static void main(String[] args) throws IOException {
        int millis = Integer.parseInt(args[0]);
        DataOutputStream out = new DataOutputStream(new BufferedOutputStream(System.out, 1 << 16));
        // Nothing else may come between the answers.
        System.setOut(new PrintStream(PrintStream.nullOutputStream()));
        DataInputStream in = new DataInputStream(System.in);
        Thread self = Thread.currentThread();
        watch(self.getId());
        EvaluatorMain m = new EvaluatorMain();
        out.writeInt(READY);
        out.flush();
        while (true) {
            byte[] request;
            try {
                request = in.readNBytes(in.readInt());
            } catch (EOFException e) {
                return;
            }
            mostCpuNanos = TIMES.getCurrentThreadCpuTime() + millis * 1_000_000L;
            deadlineNanos = System.nanoTime() + millis * EvaluationLimits.CLOCK * 1_000_000L;
            byte[] answer = m.answer(new DataInputStream(new ByteArrayInputStream(request)));
            deadlineNanos = Long.MAX_VALUE;
            out.writeInt(answer.length);
            out.write(answer);
            out.flush();
        }
    }

    private static void watch(long thread) {
        Thread t = new Thread(
                () -> {
                    while (true) {
                        try {
                            Thread.sleep(TICK_MILLIS);
                        } catch (InterruptedException e) {
                            Runtime.getRuntime().halt(OVER_TIME);
                        }
                        long deadline = deadlineNanos;
                        boolean isWorking = deadline != Long.MAX_VALUE;
                        if (isWorking
                                && (TIMES.getThreadCpuTime(thread) > mostCpuNanos
                                        || System.nanoTime() - deadline > 0)) {
                            Runtime.getRuntime().halt(OVER_TIME);
                        }
                    }
                },
                "deadline");
        t.setDaemon(true);
        t.setPriority(Thread.MAX_PRIORITY);
        t.start();
    }

    private byte[] answer(DataInputStream in) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        DataOutputStream out = new DataOutputStream(bytes);
        try {
            byte what = in.readByte();
            FullProgram e = compiled(in);
            if (what == COMPILE) {
                out.writeByte(GOOD);
                out.writeBoolean(e.needsContext());
            } else {
                evaluate(what, e, in, out);
            }
        } catch (ExpressionFault f) {
            bytes.reset();
            out.writeByte(FAULT);
            NodeWire.text(f.getMessage(), out);
            out.writeInt(f.offset());
        } catch (EvaluationFailed f) {
            bytes.reset();
            out.writeByte(FAILED);
            NodeWire.text(f.getMessage(), out);
        }
        return bytes.toByteArray();
    }

    private FullProgram compiled(DataInputStream in) throws IOException, ExpressionFault {
        Language language = Language.values()[in.readByte()];
        String source = NodeWire.text(in);
        Map<String, String> prefixes = new LinkedHashMap<>();
        for (int n = in.readInt(); n > 0; n--) {
            String prefix = NodeWire.text(in);
            prefixes.put(prefix, NodeWire.text(in));
        }
        Set<String> variables = new LinkedHashSet<>();
        for (int n = in.readInt(); n > 0; n--) {
            variables.add(NodeWire.text(in));
        }
        String key = language + source + "\0" + prefixes + "\0" + variables;
        FullProgram known = compiled.get(key);
        if (known == null) {
            known = language == Language.XPATH
                    ? engine.compile(source, prefixes, variables)
                    : transforms.compile(language, source, variables);
            compiled.put(key, known);
        }
        return known;
    }

    private static void evaluate(byte what, FullProgram e, DataInputStream in, DataOutputStream out)
            throws IOException, EvaluationFailed {
        Instant now = Instant.ofEpochMilli(in.readLong());
        long seed = in.readLong();
        List<List<Node>> trees = new ArrayList<>();
        for (int n = in.readInt(); n > 0; n--) {
            trees.add(NodeWire.numbered(NodeWire.read(in)));
        }
        Node context = trees.get(in.readInt()).get(in.readInt());
        Scope scope = Scope.of(context, now, seed);
        for (int n = in.readInt(); n > 0; n--) {
            String name = NodeWire.text(in);
            List<Node> value = new ArrayList<>();
            for (int items = in.readInt(); items > 0; items--) {
                value.add(trees.get(in.readInt()).get(in.readInt()));
            }
            scope = scope.with(name, value);
        }
        switch (what) {
            case STRING -> {
                String s = e.string(scope);
                out.writeByte(GOOD);
                NodeWire.text(s, out);
            }
            case TEST -> {
                boolean b = e.test(scope);
                out.writeByte(GOOD);
                out.writeBoolean(b);
            }
            default -> {
                List<Node> found = e.nodes(scope);
                out.writeByte(GOOD);
                nodes(found, trees, out);
            }
        }
    }

    private static void nodes(List<Node> found, List<List<Node>> trees, DataOutputStream out) throws IOException {
        Map<Node, int[]> known = new IdentityHashMap<>();
        for (int t = 0; t < trees.size(); t++) {
            for (int i = 0; i < trees.get(t).size(); i++) {
                known.put(trees.get(t).get(i), new int[] {KNOWN, t, i});
            }
        }
        List<Node> roots = new ArrayList<>();
        for (Node n : found) {
            if (!known.containsKey(n)) {
                Node root = TreeViews.root(n);
                List<Node> all = NodeWire.numbered(root);
                for (int i = 0; i < all.size(); i++) {
                    known.put(all.get(i), new int[] {FOREIGN, roots.size(), i});
                }
                roots.add(root);
            }
        }
        out.writeInt(roots.size());
        for (Node r : roots) {
            NodeWire.write(r, out);
        }
        out.writeInt(found.size());
        for (Node n : found) {
            int[] at = known.get(n);
            out.writeByte(at[0]);
            out.writeInt(at[1]);
            out.writeInt(at[2]);
        }
    }
}
