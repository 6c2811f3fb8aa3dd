package org.wirekettle.flow;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.wirekettle.expression.Expressions;

/**
 * What a step does: its settings, its title, what it refers to, and how it compiles to what works on records. A new
 * kind is one class and its line here; see CONTRIBUTING.md.
 */
@JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "kind")
@JsonSubTypes({
    @JsonSubTypes.Type(value = ReadStep.class, name = "read"),
    @JsonSubTypes.Type(value = ReceiveStep.class, name = "receive"),
    @JsonSubTypes.Type(value = CallStep.class, name = "call"),
    @JsonSubTypes.Type(value = EachStep.class, name = "each"),
    @JsonSubTypes.Type(value = GatherStep.class, name = "gather"),
    @JsonSubTypes.Type(value = BranchStep.class, name = "branch"),
    @JsonSubTypes.Type(value = AttemptStep.class, name = "attempt"),
    @JsonSubTypes.Type(value = CheckStep.class, name = "check"),
    @JsonSubTypes.Type(value = PickStep.class, name = "pick"),
    @JsonSubTypes.Type(value = ShapeStep.class, name = "shape"),
    @JsonSubTypes.Type(value = LookUpStep.class, name = "look-up"),
    @JsonSubTypes.Type(value = JoinStep.class, name = "join"),
    @JsonSubTypes.Type(value = ParseStep.class, name = "parse"),
    @JsonSubTypes.Type(value = TransformStep.class, name = "transform"),
    @JsonSubTypes.Type(value = DocumentStep.class, name = "document"),
    @JsonSubTypes.Type(value = SetStep.class, name = "set"),
    @JsonSubTypes.Type(value = TotalStep.class, name = "total"),
    @JsonSubTypes.Type(value = WaitStep.class, name = "wait"),
    @JsonSubTypes.Type(value = LogStep.class, name = "log"),
    @JsonSubTypes.Type(value = AsideStep.class, name = "aside"),
    @JsonSubTypes.Type(value = WriteStep.class, name = "write"),
    @JsonSubTypes.Type(value = QueryStep.class, name = "query"),
    @JsonSubTypes.Type(value = KeepStep.class, name = "keep"),
    @JsonSubTypes.Type(value = FlowStep.class, name = "flow"),
    @JsonSubTypes.Type(value = ReplyStep.class, name = "reply")
})
public interface StepKind {
    /** What it does, in words, for outlines. */
    @JsonIgnore
    String title();

    /** Makes what works on records. Reports problems instead of failing; then what it returns is not run. */
    Runner compile(FlowCompiler compiler);

    /** The lists of steps inside, in the order in which they are shown. */
    default List<Arm> inside() {
        return List.of();
    }

    /** The same block around other steps. @param steps one list for each arm, in the same order */
    default StepKind around(List<List<Step>> steps) {
        return this;
    }

    /** What happens when all inside is through, in words, counted as the arm of that name; null for nothing. */
    default Arm closing() {
        return null;
    }

    /** What it names of the project, without what the steps inside name. */
    default List<Ref> named() {
        return List.of();
    }

    /**
     * What it fills, to be looked at while it is designed; empty when it fills nothing.
     *
     * @param flow that it is a step of
     * @throws org.wirekettle.problem.Refused in words, when something it refers to is not chosen yet, or not there
     */
    default Optional<FillDesign> filling(Flow flow, Project project, Expressions expressions) {
        return Optional.empty();
    }

    /** Whether it is done once for all records. */
    @JsonIgnore
    default boolean isOnceARun() {
        return false;
    }

    /** Whether records begin here: what is before it is done once for all of them. */
    @JsonIgnore
    default boolean isBeginning() {
        return false;
    }

    /** The kind's name, as definitions have it. */
    default String kindName() {
        return Arrays.stream(StepKind.class.getAnnotation(JsonSubTypes.class).value())
                .filter(t -> t.value() == getClass())
                .map(JsonSubTypes.Type::name)
                .findFirst()
                .orElseThrow(() -> new IllegalStateException(getClass() + " is not registered as a kind of step"));
    }
}
