"""The calculations of the core by name: what each takes, what works it out, what it is for."""

from .command import Command

COMMANDS = {
    "cutlines": Command(
        "cut.lines:CutRequest", "cut.lines:cut_lines", "propose the cuts of a panel, layer by layer"
    ),
    "spot_rows": Command(
        "cut.spots:SpotRequest",
        "cut.spots:spot_rows",
        "release rows of spot welds, and where the new welds go",
    ),
    "joint_choice": Command(
        "cut.joints:JointRequest", "cut.joints:joint_choice", "which joint where, and what to watch"
    ),
    "cuts_through": Command(
        "cut.through:ThroughRequest",
        "cut.through:cuts_through",
        "propose the cuts of sheets behind one another, with their windows",
    ),
    "cut_options": Command(
        "cut.plans:OptionsRequest", "cut.options:cut_options", "patches, part panel or whole panel, compared"
    ),
    "stretches": Command(
        "cut.stretches:StretchRequest",
        "cut.stretches:stretches",
        "what each stretch of a cut is: joint, flange, free edge or open seam",
    ),
    "replan": Command(
        "cut.replan:ReplanRequest",
        "cut.replan:replanned",
        "a cut that opening has shown to be too small: the new line and what it adds",
    ),
    "develop": Command(
        "patch.edges:PatchRequest",
        "patch.flat:develop",
        "flat pattern of a patch with bends, laps and joggles",
    ),
    "pattern": Command(
        "patch.part:PartRequest",
        "patch.pattern:pattern",
        "the flat pattern in full: arcs, runs of bends, hems, box corners, holes",
    ),
    "fold_order": Command(
        "patch.fold_order:FoldOrderRequest",
        "patch.fold_order:fold_order",
        "in which order to fold so that nothing bent meets the tool, and which fingers to take out",
    ),
    "curved_flange": Command(
        "patch.curved:CurvedFlangeRequest",
        "patch.curved:curved_flange",
        "how much the rim of a flange along a curve must be shrunk or stretched, and where",
    ),
    "shape_check": Command(
        "patch.shape_read:ShapeRequest",
        "patch.shape:shape_check",
        "flat, bent, conical, crowned or saddle: what must be stretched or shrunk, with what",
    ),
    "bead_and_recess": Command(
        "patch.pressed:PressedRequest",
        "patch.pressed:bead_and_recess",
        "what a pressed recess or a row of beads draws in, its formers, and where ribs meet best",
    ),
    "jig": Command(
        "patch.jig:JigRequest",
        "patch.jig:jig",
        "a frame or a plate that keeps mountings in place: cut list, holes, distances to check",
    ),
    "fit": Command(
        "patch.fit:FitRequest",
        "patch.fit:fit",
        "an offer-up judged: how to move the patch, what to trim, where metal is missing",
    ),
    "taped": Command(
        "patch.taped:TapedRequest", "patch.taped:taped", "an outline from points taped from two marks"
    ),
    "nest": Command(
        "patch.nest_stock:NestRequest",
        "patch.nest:nest",
        "patterns laid on the sheets and offcuts in stock, and what goes back",
    ),
    "k_from_test": Command(
        "patch.proved:BendTest", "patch.proved:k_from_test", "K from the person's own test bend"
    ),
    "gauge": Command(
        "patch.gauges:GaugeRequest",
        "patch.gauges:gauge",
        "what a thickness is in mm and in both gauges, and what to buy",
    ),
    "grade": Command(
        "survey.grading:GradeRequest",
        "survey.grading:graded",
        "grade a finding from its evidence, and say why",
    ),
    "coverage": Command(
        "survey.coverage:CoverageRequest",
        "survey.coverage:coverage",
        "how much of each panel, layer and shell was looked at",
    ),
    "growth": Command(
        "survey.growth:GrowthRequest", "survey.growth:growth_forecast", "how far the rust will really go"
    ),
    "rectify": Command(
        "survey.rectify:RectifyRequest",
        "survey.rectify:rectify",
        "millimetres from a photo with a card of known size in it",
    ),
    "adjust": Command(
        "datum.asked:AdjustRequest",
        "datum.adjust:adjust",
        "datum points from distances, heights and angles, and which reading is silly",
    ),
    "shape": Command(
        "datum.shape:ShapeRequest",
        "datum.shape:shape",
        "roll, pitch, twist, sag, sway, lozenge, asymmetry and squareness of adjusted points",
    ),
    "next_reading": Command(
        "datum.next_reading:NextReadingRequest",
        "datum.next_reading:next_reading",
        "the readings that shrink the worst uncertainty most",
    ),
    "level": Command(
        "datum.level:LevelRequest",
        "datum.level:level",
        "packers that bring the flats of a shell level on its stands",
    ),
    "transfer": Command(
        "datum.transfer:TransferRequest",
        "datum.transfer:transfer",
        "a mark found again from two marks that stay",
    ),
    "hold": Command(
        "hold.asked:HoldRequest",
        "hold.verdict:hold",
        "what still holds a shell in one state: HELD, SOFT or LOOSE, and why",
    ),
    "braces": Command(
        "hold.braces:BraceRequest",
        "hold.braces:braces",
        "where the next brace helps most, and how many hold it",
    ),
    "tubes": Command(
        "hold.tubes:TubesRequest",
        "hold.tubes:tubes",
        "the cut list of braces: lengths and mitres of their tubes",
    ),
    "calibrate": Command(
        "hold.calibrate:CalibrateRequest",
        "hold.calibrate:calibrate",
        "how soft this shell is, from one weight and one dial",
    ),
    "hold_measured": Command(
        "hold.measured:MeasuredRequest",
        "hold.measured:hold_measured",
        "predicted beside measured movement between two states",
    ),
    "removal_order": Command(
        "hold.order:OrderRequest",
        "hold.order:removal_order",
        "in which order to take parts out and put them back",
        long=True,
    ),
    "section": Command(
        "shell.sections:SectionRequest",
        "shell.sections:cut_through",
        "the sheets that a cut across a shell meets, from the outside in",
    ),
    "cavities": Command(
        "shell.cavity_records:CavityRequest",
        "shell.cavities:cavities",
        "the closed boxes of a shell: faces, volume, openings, and where water stands",
    ),
    "edges": Command(
        "shell.edges:EdgeRequest",
        "shell.edges:edges",
        "what each stretch of a sheet's outline is: free, folded, hemmed, flanged or a seam",
    ),
    "curvature": Command(
        "shell.curvature:CurveRequest",
        "shell.curvature:curvature",
        "where a sheet is flat, bent one way or crowned, with radii",
    ),
    "gaps": Command(
        "shell.gaps:GapRequest",
        "shell.gaps:judge_gaps",
        "the gaps round a hung part: even or wedge, and which hinge moves it which way",
    ),
    "from_photo": Command(
        "shell.from_photo:PhotoRequest",
        "shell.from_photo:from_photo",
        "a body's dimensions from places traced on a photo of its side and two known lengths",
    ),
    "protect_face": Command(
        "protect.systems:FaceRequest",
        "protect.systems:face_told",
        "how a face stands, what may come next and when",
    ),
    "cans": Command(
        "protect.systems:CansRequest",
        "protect.systems:cans_needed",
        "how much of each product is still needed",
    ),
    "cavity_wax": Command(
        "protect.cavity:WaxRequest",
        "protect.cavity:cavity_wax",
        "how a cavity is waxed, and what nothing reaches",
    ),
    "needs": Command(
        "parts.needs:NeedsRequest", "parts.needs:needs_told", "how far each need is, and what presses"
    ),
    "source_choice": Command(
        "parts.landed:ChoiceRequest",
        "parts.landed:source_choice",
        "quotes for a part by what it costs on the car, and what would turn the choice",
    ),
    "receipt": Command(
        "parts.receipt:ReceiptRequest",
        "parts.receipt:receipt",
        "what a receipt comes to, line by line, and whether it adds up as printed",
    ),
    "basket": Command(
        "parts.basket:BasketRequest",
        "parts.basket:basket",
        "which needs to order from whom and on which day, with the proof that no split costs less",
        long=True,
    ),
    "ledger": Command(
        "parts.ledger:LedgerRequest",
        "parts.ledger:ledger",
        "what was spent, what is ordered, what it costs to finish, beside the budget and the hours",
    ),
    "arrival": Command(
        "parts.arrival:ArrivalRequest",
        "parts.arrival:arrival",
        "a part that came, held against the car: it fits, it is made to fit, or it goes back",
    ),
    "customer_sheet": Command(
        "parts.customer:CustomerRequest",
        "parts.customer:customer_sheet",
        "an estimate, a variation or a bill by repair, beside what was agreed",
    ),
    "bank_statement": Command(
        "parts.bank:StatementRequest",
        "parts.bank:statement",
        "the lines of a bank statement, and the rows that cannot be read",
    ),
    "bank_match": Command(
        "parts.bank:MatchRequest", "parts.bank:match", "which payment may have paid which receipt"
    ),
    "plan": Command(
        "order.asked:PlanRequest",
        "order.plan:plan",
        "every step in a slot so that all is done soonest, with the proof, or what contradicts what",
        long=True,
    ),
    "work_steps": Command(
        "order.work:StepsRequest",
        "order.steps:made_steps",
        "the steps of every repair and sheet with their ties, as a person changed them",
    ),
    "plan_again": Command(
        "order.replan:ReplanRequest",
        "order.replan:replan",
        "a plan again with least change, and what a step put elsewhere does",
    ),
    "holds_up": Command(
        "order.chain:ChainRequest",
        "order.chain:chain",
        "what a step waits for, what waits for it, and the chain that sets when it ends",
    ),
    "finish": Command(
        "order.finish:FinishRequest",
        "order.finish:finish",
        "when it will be done: as likely as not, four times in five, and what moves it most",
    ),
    "what_if": Command(
        "order.what_if:WhatIfRequest",
        "order.what_if:what_if",
        "when it would be done without a weekday's slots, with a later part or with a helper, beside as it is",
    ),
    "what_now": Command(
        "order.what_now:NowRequest",
        "order.what_now:what_now",
        "which open steps fit the minutes, hands, warmth and sparks there are now",
    ),
    "find": Command(
        "record.finder:FindRequest", "record.finder:find", "what was written down, found by words"
    ),
    "metal_map": Command(
        "record.metal:MapRequest", "record.metal:metal_map", "every sheet by what it is today"
    ),
    "sort_photos": Command(
        "record.heap:HeapRequest",
        "record.heap:sort_heap",
        "a heap of photos sorted into the work of its days",
    ),
    "look_again": Command(
        "protect.look_again:LookAgainRequest",
        "protect.look_again:look_again",
        "when the wax in each box is to be looked at next",
    ),
    "at_point": Command(
        "record.at_point:PointRequest", "record.at_point:at_point", "what happened at a place on the shell"
    ),
    "table_in": Command(
        "record.tables:TableRequest",
        "record.tables:read_table",
        "hours or costs from a table that somebody kept",
    ),
    "overlay": Command(
        "record.overlay:OverlayRequest",
        "record.overlay:overlay",
        "two photos of one place laid over one another",
    ),
    "taught": Command(
        "record.taught:TaughtRequest", "record.taught:taught", "what the work so far has taught"
    ),
    "shell_on": Command(
        "record.at_day:ShellOnRequest", "record.at_day:shell_on", "the shell as it stood at the end of a day"
    ),
    "strip_register": Command(
        "strip.register:RegisterRequest",
        "strip.register:register",
        "in which order what came off goes back, and why not yet",
    ),
    "strip_find": Command(
        "strip.find:FindRequest", "strip.find:find", "parts found by words, however they were typed"
    ),
    "sheets": Command(
        "repairs.sheets:SheetsRequest",
        "repairs.sheets:sheets_told",
        "where a repair is by its sheets, from the inside out",
    ),
    "weld_plan": Command(
        "weld.plan:WeldPlanRequest", "weld.plan:weld_plan", "every joint of a repair in the order of the work"
    ),
    "distortion": Command(
        "weld.distortion:DistortionRequest",
        "weld.distortion:distortion",
        "how far welding pulls a patch in several orders, and whether it stays flat",
    ),
    "weld_setting": Command(
        "weld.book:BookRequest",
        "weld.book:book_setting",
        "the setting for a joint: proved on a coupon, or a starting point",
    ),
    "spot_row": Command(
        "weld.book:SpotRowRequest", "weld.book:spot_row", "which welds of a row a resistance welder reaches"
    ),
    "consumables": Command(
        "weld.consumables:ConsumablesRequest",
        "weld.consumables:consumables",
        "what the welding ahead takes, and in which repair each thing ends",
    ),
    "weld_checks": Command(
        "weld.checks:WeldChecksRequest",
        "weld.checks:weld_checks",
        "how a welded sheet stands: lamp, back, thickness, datum",
    ),
    "cure": Command(
        "protect.clocks:ClockRequest",
        "protect.clocks:clock",
        "a coat's clock: when the next may go on, when it has cured",
    ),
    "protect_check": Command(
        "protect.check:ProtectRequest",
        "protect.check:protect_check",
        "what is on each face, held against the rules of protection",
    ),
    "closing_check": Command(
        "protect.closing:ClosingRequest",
        "protect.closing:closing_check",
        "what must be seen to before a box closes",
    ),
    "island_heat": Command(
        "weld.island:IslandRequest",
        "weld.island:island_heat",
        "the heat of a patch whose gap, edges and holes are barriers, beside an endless plate",
    ),
    "weld_progress": Command(
        "weld.progress:ProgressRequest",
        "weld.progress:progress",
        "how far a seam is: tacks made, missed and blown through, the next one and its wait",
    ),
    "tacks": Command(
        "weld.tacks:TackRequest", "weld.tacks:tack_order", "order of the tacks and the heat they leave"
    ),
}
