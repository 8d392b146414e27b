<div id="shape-fault" role="alert" hx-swap-oob="true">@foreach ($sentences as $sentence)<div class="diagnosis">{{ trim($sentence) }} <span
    class="s">Nothing was changed.</span></div>@endforeach</div>
