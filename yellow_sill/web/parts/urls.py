from django.urls import path

from .views import arrival, bank, cost, line, money, need, orders, receipt, trade, wanted

app_name = "parts"
_ALL = "v/<int:vehicle_id>/parts/"
urlpatterns = [
    path("v/<int:vehicle_id>/repairs/<int:number>/log/cost/<int:pk>/", cost.cost, name="cost"),
    path(_ALL, wanted.wanted, name="wanted"),
    path(f"{_ALL}wanted.pdf", wanted.paper, name="wanted_pdf"),
    path(f"{_ALL}<int:number>/", need.need, name="need"),
    path(f"{_ALL}<int:number>/photo/", need.photo, name="photo"),
    path(f"{_ALL}<int:number>/arrival/", arrival.arrival, name="arrival"),
    path(f"{_ALL}orders/", orders.orders, name="orders"),
    path(f"{_ALL}orders/<slug:key>/progress/", orders.progress, name="basket_progress"),
    path(f"{_ALL}orders/<int:number>.pdf", orders.sheet, name="order_pdf"),
    path(f"{_ALL}money/", money.money, name="money"),
    path(f"{_ALL}money/costs.<slug:kind>", money.table, name="table"),
    path(f"{_ALL}money/in/", line.brought_in, name="brought_in"),
    path(f"{_ALL}money/line/", line.line, name="new_line"),
    path(f"{_ALL}money/line/<int:pk>/", line.line, name="line"),
    path(f"{_ALL}receipts/new/", receipt.receipt, name="new_receipt"),
    path(f"{_ALL}receipts/<int:number>/", receipt.receipt, name="receipt"),
    path(f"{_ALL}receipts/<int:number>/page/<int:page>.jpg", receipt.page, name="receipt_page"),
    path(f"{_ALL}receipts/<int:number>.pdf", receipt.paper, name="receipt_pdf"),
    path(f"{_ALL}bank/", bank.bank, name="bank"),
    path(f"{_ALL}bank/<int:number>/", bank.statement, name="statement"),
    path(f"{_ALL}customer/", trade.papers, name="papers"),
    path(f"{_ALL}customer/<int:number>/", trade.paper, name="paper"),
    path(f"{_ALL}customer/<int:number>.pdf", trade.paper_pdf, name="paper_pdf"),
    path(f"{_ALL}surplus/", trade.surplus, name="surplus"),
    path(f"{_ALL}surplus/<int:number>/photo/", trade.surplus_photo, name="surplus_photo"),
]
